/** A word with its explanation: for the glossary, and for the dotted words of the screens. */
export interface Explained {
  word: string;
  /** At most two short sentences. */
  meaning: string;
}

/** Words of the trade. */
export const tradeWords = {
  symbology: {
    word: 'Code type (symbology)',
    meaning: 'A kind of code, such as QR code, Data Matrix or EAN-13. Each has its own rules.',
  },
  module: {
    word: 'Square (module)',
    meaning: 'The smallest unit of a code: one small square of a QR code, or the thinnest bar.',
  },
  quietZone: {
    word: 'Quiet zone',
    meaning:
      'The empty edge around a code. Without it, scanners do not find where the code begins.',
  },
  level: {
    word: 'Error correction level',
    meaning:
      'How much of a code can be damaged before it stops reading: about 7% (L), 15% (M), 25% (Q) or 30% (H). A higher level makes a larger code.',
  },
  dpi: {
    word: 'dpi',
    meaning:
      'Dots per inch: how fine a printer prints. Office printers have 600, label printers 203 or 300.',
  },
  checkDigit: {
    word: 'Check digit',
    meaning: 'A last digit that is calculated from the others. It shows most typing mistakes.',
  },
  finder: {
    word: 'Finder',
    meaning:
      'The large marks by which a scanner finds a code, such as the three corners of a QR code.',
  },
  gs1: {
    word: 'GS1',
    meaning:
      'The organization behind product numbers. Its codes carry several fields, such as number, batch and date.',
  },
  payload: {
    word: 'What a code says (payload)',
    meaning: 'The exact text inside a code. A scanner returns it character by character.',
  },
  cutMarks: {
    word: 'Cut marks and bleed',
    meaning: 'Lines at the corners that show where to cut, and colour that goes beyond the cut.',
  },
  wearTest: {
    word: 'Wear test',
    meaning:
      'Hand Stamp damages the picture of a code step by step and measures how much it survives.',
  },
  ipp: {
    word: 'IPP',
    meaning:
      'The standard by which printers on a network are asked what they can do and given work.',
  },
} as const satisfies Record<string, Explained>;

/** Words of Hand Stamp. */
export const ourWords = {
  record: { word: 'Record', meaning: 'One row of your list: one person, product or thing.' },
  list: {
    word: 'List',
    meaning: 'Your records with their columns. Several jobs can use one list.',
  },
  key: {
    word: 'Key',
    meaning: 'A number or ID that is different for every record. Hand Stamp finds records by it.',
  },
  title: { word: 'Title', meaning: 'The column whose value names a record, such as the name.' },
  worked: {
    word: 'Worked column',
    meaning:
      'A column that Hand Stamp calculates from others, for every row and also for new rows.',
  },
  secret: {
    word: 'Secret column',
    meaning:
      'Its values are hidden on screen and left out of downloads. They can be in a code, but are not printed as text.',
  },
  stamp: {
    word: 'Stamp',
    meaning: 'What goes into each code and how it looks. A job can have up to eight stamps.',
  },
  look: { word: 'Look', meaning: 'The size, colours, shapes, logo and frame of a code.' },
  piece: {
    word: 'Piece',
    meaning: 'What is printed for one record: a badge, a label, a sign, a postcard or a document.',
  },
  stock: {
    word: 'Label stock',
    meaning: 'A sheet or roll of labels with its measures. Each label on a sheet is a seat.',
  },
  run: {
    word: 'Run',
    meaning: 'One time that pieces are made: printed, downloaded, or sent by email.',
  },
  receipt: {
    word: 'Receipt',
    meaning: 'The list of all codes of a run, with what an independent reader read back from each.',
  },
  readBack: {
    word: 'Read back',
    meaning:
      'Every finished code is scanned again from the artwork and compared, before it leaves.',
  },
  loupe: {
    word: 'Loupe',
    meaning: 'A window that reads a code closely: of a record, a picture or your camera.',
  },
  link: {
    word: 'Link',
    meaning: 'A short web address in a code. You can change where it leads after printing.',
  },
  page: {
    word: 'Record page',
    meaning: 'A web page that each record of a list can have. You choose who sees which columns.',
  },
  checkpoint: {
    word: 'Checkpoint',
    meaning: 'A place where codes are scanned and checked against a list, such as a door.',
  },
  tape: { word: 'Tape', meaning: 'The list of all scans at a checkpoint, the latest first.' },
  round: {
    word: 'Round',
    meaning: 'A walk through locations that finds what is there, what is missing and what moved.',
  },
  inTray: {
    word: 'In-tray',
    meaning: 'A folder that Hand Stamp watches. Files that are saved there can start work.',
  },
  outTray: {
    word: 'Out-tray',
    meaning: 'The folder in which finished files and test emails are kept.',
  },
  postRoom: {
    word: 'Post room',
    meaning: 'The screen with your printers, the In-tray and the Out-tray.',
  },
  order: {
    word: 'Standing order',
    meaning: 'Work that starts by itself, such as “for each new record, make its sign”.',
  },
  rehearsal: {
    word: 'Rehearsal',
    meaning:
      'What a standing order would do, shown before you turn it on. Nothing is made or sent.',
  },
} as const satisfies Record<string, Explained>;
