/** What is kept for a while only, and for how long unless somebody says otherwise. */
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

/** In days; 0 is for ever. */
export const keptForDays = [7, 30, 90, 365, 0] as const;

export const keptWords: Readonly<Record<KeptKind, { name: string; about: string }>> = {
  files: {
    name: 'Files of runs',
    about: 'Afterwards the run and its receipt stay, and the files can be made again from it.',
  },
  intakes: {
    name: 'Spreadsheets that were not brought in',
    about: 'And what is known of those that were.',
  },
  documents: {
    name: 'Documents and PDFs that nothing uses',
    about: 'Those of a job, of an earlier version of one, or of a run always stay.',
  },
  letters: { name: 'The Out-tray', about: 'Notices that a run is done.' },
  answers: { name: 'What addresses answered', about: 'When codes were asked whether they open.' },
  versions: {
    name: 'Earlier versions of jobs',
    about: 'As far as undoing goes back; the latest fifty are always kept.',
  },
  scans: {
    name: 'What was scanned at checkpoints',
    about:
      'Who came when. Whoever came in before that may come in again; rounds that are closed stay.',
  },
  orders: {
    name: 'What standing orders did',
    about: 'Step by step. What an order has done already is known for ever.',
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

/** Most that everything together may take, in GB, and what it is unless somebody says otherwise. */
export const wholeGb = { least: 1, most: 2000, usual: 20 } as const;
