/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const bringPdfs = {
  thereIsNoPDF: 'There is no PDF in the In-tray or its folders.',
  thereIsNoPDFAmong: 'There is no PDF among these files.',
  pDFsOfTheIn: 'PDFs of the In-tray',
  pDFs: '{1} PDFs',
  bottomRight: 'bottom right',
  pDFsThatExist: 'PDFs that exist',
  choosePDFsAFolder:
    'Choose PDFs, a folder, or a ZIP file, up to 500 MB together. They are kept as they are. The code goes on a copy, and everything in it stays.',
  dropPDFsAFolder: 'Drop PDFs, a folder or a ZIP file here',
  dropThemHereOr: 'Drop them here, or',
  of: '{1} of {2} …',
  unpacking: 'Unpacking …',
  choosePDFs: 'Choose PDFs',
  chooseAFolder: 'Choose a folder',
  useThePDFsIn: 'Use the PDFs in the In-tray',
  continue: 'Continue',
  back: 'Back',
  pDFIs: 'PDF is',
  pDFsAre: 'PDFs are',
  passwordOfThePDF: 'Password of the PDF',
  passwordOfThePDFs: 'Password of the PDFs',
  lockedPDF: 'locked PDF',
  cannotBeUnpackedIt: '{1} cannot be unpacked: it is not a ZIP file, or it is damaged.',
  unpacksToMoreThan: '{1} unpacks to more than 500 MB. Bring it in in parts.',
  hereNot: '{1} here, {2} not:',
  open: 'Open {1}',
} as const;

export const groundPart = {
  whatItIsPut: 'What it is put on',
  bringInAnotherDocument: 'Bring in another document',
  bringInMorePDFs: 'Bring in more PDFs',
  useThisDocument: 'Use this document',
  cancel: 'Cancel',
  aDocumentOfYour: 'A document of your own, by example',
  bringInADOCX:
    'Bring in a DOCX, or a page or email in HTML, that is finished for one person. Hand Stamp finds the record it was written for and every place that changes; you type nothing into it. It is kept as it is, up to 20 MB. Put a page with pictures into a ZIP.',
  dropADocumentHere: 'Drop a document here',
  dropItHereOr: 'Drop it here, or',
  checkingTheDocument: 'Checking the document …',
  chooseADocument: 'Choose a document',
  back: 'Back',
} as const;

export const onSheets = {
  acrossThenDown: 'across then down',
  downThenAcross: 'down then across',
  fromSeat: 'from seat {1}',
  seat: 'seat {1}',
  firstSeat: 'First seat',
  order: 'Order',
  aDeletedColumn: 'a deleted column',
  oneEach: 'one each',
  each: '{1} each',
  asManyAsSays: 'as many as {1} says',
  copies: 'Copies',
  piecesForEachRecord: 'Pieces for each record',
  orFromAColumn: 'or from a column',
  from: 'from {1}',
} as const;

export const placePicker = {
  chooseTheFirstFree: 'Choose the first free seat of the sheet.',
  seatsOfTheSheet: 'Seats of the sheet',
  seat: 'Seat {1}',
} as const;
