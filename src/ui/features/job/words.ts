/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const firstVisit = {
  nextSayInStamps: 'Next: say in Stamps what a scan does.',
  nextLayOutThe: 'Next: lay out the piece in Piece.',
  nextMakeTheFiles: 'Next: make the files in Run.',
  nextChooseMakeAnd: 'Next: choose Make, and download the files from the run at the right.',
  aJobHasFour: 'A job has four parts: Records, Stamps, Piece, Run. Start anywhere.',
  readTheGuide: 'Read the guide',
  hideThis: 'Hide this',
} as const;

export const jobScreen = {
  thisRecordNoLonger: 'This record no longer exists. It may have been deleted.',
  keepTheirs: 'Keep theirs',
  useMine: 'Use mine',
  close: 'Close',
} as const;

export const ledger = {
  recordsOfTheJob: 'Records of the job',
  record: 'Record',
  theRecordsAreBeing: 'The records are being checked and appear here one after the other.',
  thisListHasNo:
    'This list has no records yet. Open Records and choose “Add a record”, or update the list from its source.',
  noRecordContains: 'No record contains “{1}”.',
  noRecordMatches: 'No record matches.',
  wholeSentence: 'whole sentence ▾',
  shorten: 'shorten ▴',
  toCheck: '{1} to check',
  allReady: 'all ready',
  allFit: '{1} · all fit',
  fits: '{1} · fits {2}',
  leftOut: '{1} left out',
  allFit2: 'all fit',
  ready: '{1} ready',
} as const;

export const opening = {
  openingTheJob: 'Opening the job …',
} as const;
