/** Things that are kept for a time, with the default. */
export const keptKinds = [
  'files',
  'intakes',
  'documents',
  'letters',
  'answers',
  'versions',
  'scans',
  'orders',
  'journal',
] as const;
export type KeptKind = (typeof keptKinds)[number];

/** In days; 0 means without end. */
export const keptForDays = [7, 30, 90, 365, 0] as const;

export const keptWords: Readonly<Record<KeptKind, { name: string; about: string }>> = {
  files: {
    name: 'Files of runs',
    about: 'The run and its receipt stay, and you can make the files again.',
  },
  intakes: {
    name: 'Spreadsheets that were not brought in',
    about: 'And details of those that were.',
  },
  documents: {
    name: 'Documents and PDFs that nothing uses',
    about: 'Those that a job, an earlier version of one, or a run uses always stay.',
  },
  letters: { name: 'The Out-tray', about: 'Notices that a run is done.' },
  answers: {
    name: 'Results of address checks',
    about: 'When Hand Stamp checked whether addresses open.',
  },
  versions: {
    name: 'Earlier versions of jobs',
    about: 'As far as you can undo. The latest 50 are always kept.',
  },
  scans: {
    name: 'What was scanned at checkpoints',
    about: 'Who came when. After that, people who came in may come in again. Closed rounds stay.',
  },
  orders: {
    name: 'What standing orders did',
    about: 'Step by step. What an order has done is remembered without limit.',
  },
  journal: { name: 'The journal', about: 'Who did what, and when.' },
};

export const usualDays: Readonly<Record<KeptKind, number>> = {
  files: 365,
  intakes: 30,
  documents: 90,
  letters: 365,
  answers: 90,
  versions: 365,
  scans: 365,
  orders: 90,
  journal: 0,
};

/** The most space that everything together may use, in GB, and its default. */
export const wholeGb = { least: 1, most: 2000, usual: 20 } as const;
