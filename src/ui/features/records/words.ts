/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const beginningPart = {
  aDeletedColumn: 'a deleted column',
  whatIsMadeFrom: 'What {1} is made from',
  ofWhichStamp: 'Of which stamp',
  empty: '(empty)',
} as const;

export const cellKeys = {
  isSecretToCopy: '{1} is secret. To copy it, first show it on this screen in its heading.',
  someOfTheseRows:
    'Some of these rows are still loading. Nothing was pasted. Wait a moment, then paste again.',
  youPastedRowsBut:
    'You pasted {1} rows, but only {2} can be filled from here on. Clear the search or sorting, or bring the rows in as a new list.',
} as const;

export const changesTable = {
  noTitle: '(no title)',
  changedByHandHere: ' (changed by hand here)',
  andMoreCells: 'and {1} more cells',
} as const;

export const columnEditor = {
  sortAZ0: 'Sort A–Z, 0–9',
  sortZA9: 'Sort Z–A, 9–0',
  originalOrder: 'Original order',
  showOnlyRecordsWhose: 'Show only records whose {1}',
  isBlank: 'is blank',
  isFilled: 'is filled',
  text: 'text',
  showOnlyThose: 'Show only those',
  showAllAgain: 'Show all again',
  name: 'Name',
  rename: 'Rename',
  calledInItsSource: 'Called {1} in its source.',
  moveLeft: 'Move left',
  moveRight: 'Move right',
  hide: 'Hide',
  secretHiddenOnScreen: 'Secret: hidden on screen, not printed under the code, not in downloads',
  hideItAgain: 'Hide it again',
  showItOnThis: 'Show it on this screen for now',
  hidden: '{1} hidden',
  showAHiddenColumn: 'Show a hidden column again',
} as const;

export const pagesSentence = {
  createAWebPage: 'Create a web page for each record',
  eachRecordGetsIts:
    'Each record gets its own web page at an address that cannot be guessed, also records that are added later. A code can lead there.',
  anyoneSeesOnlyIts: 'Anyone sees only its title until you choose more.',
  aDeletedColumn: 'a deleted column',
  nothingMore: 'nothing more',
  openTheSelectedRecords: 'Open the selected record’s page',
  noPicture: 'no picture',
  theCodeOf: 'the code of {1}',
  noCode: 'no code',
  showsPeopleWhoAre: 'shows people who are signed in {1}',
  whatPagesShowPeople: 'What pages show people who are signed in',
  pictureOnPages: 'Picture on pages',
  thePictureOf: 'the picture of {1}',
  codeOnPages: 'Code on pages',
  whetherPagesAreOpen: 'Whether pages are open',
  anyoneWhoHasIts: 'Anyone who has its address sees it.',
  visitorsReadThatIt: 'Visitors read that it is closed for now.',
  titleOfPages: 'Title of pages',
  empty: '(empty)',
  whatPagesShow: 'What pages show',
  printedCode: 'printed code',
  soNobodyElseOpens:
    '{1} {2}, so nobody else opens these pages. You can change the address in Settings.',
  chooseWhoSeesEach:
    'Choose who sees each column. Columns appear in the order in which you choose them.',
  peopleWhoAreSigned: 'people who are signed in',
  andPeopleWhoAre: 'and people who are signed in also {1}',
  with: 'with {1}',
  eachRecordHasA:
    'Each record has a page, in {1}, which is {2}. Its title is {3}. It shows anyone {4}{5}',
  toThemAndNot: '; {1} {2} to them and {3} not work',
  toDeletedRecordsAnd: '{1} {2} to deleted records and{3} so{4}.',
} as const;

export const preview = {
  theSelectedRecordAnd: 'The selected record, and the ones most different from it:',
  keptOnceMade: '··········, kept once made',
  blank: 'blank',
} as const;

export const problemsLine = {
  check: '{1} Check {2}.',
  loading: 'Loading …',
  whatIsA: 'What is a {1}?',
  record: 'record {1}',
  isBlank: '{1} is blank',
  theFirst300Of: 'The first 300 of {1}. Fixing changes all of them.',
  showOnlyThese: 'Show only these',
  youCanUndoThis: 'You can undo this.',
  fix: 'Fix {1}',
} as const;

export const records = {
  keyColumnANumber: 'Key column: a number or ID that is different for every record',
  noColumnYet: 'no column yet',
  titleColumn: 'Title column',
  undo: 'Undo',
  redo: 'Redo',
  addARecord: 'Add a record',
  addAColumn: 'Add a column',
  nameOfTheNew: 'Name of the new column',
  addColumn: 'Add column',
  withFromKeyTitle: '{1} with {2} from {3}; key: {4}, title: {5}; {6}{7}.{8}',
} as const;

export const recordsTable = {
  theColumn: 'The column {1}',
  roleOf: 'Role of {1}',
  columnsFurtherRight: 'Columns further right',
  furtherRight: '{1} further right ›',
  widthOf: 'Width of {1}',
  isWorkedOutFrom:
    '{1} is worked out from other columns, so you cannot type over it. Change its sentence, or those columns.',
  isSecret: '{1} is secret',
  ofRecord: '{1} of record {2}',
  secretTypeANew: 'secret; type a new value',
  blank: 'blank',
  needsALook: 'needs a look',
} as const;

export const reread = {
  updateFromTheSource: 'Update from the source',
  sourceAsOfYou:
    'Source as of {1}. You see what was added, changed and deleted before it is applied. Your own changes and what was printed stay.',
  updateFrom: 'Update from {1}',
  chooseAgainOrA: 'Choose {1} again, or a newer one',
  andAppliedAutomaticallyIf: ', and applied automatically if nothing is lost',
  reading: 'Reading {1} …',
  reviewChanges: 'Review changes',
  discard: 'Discard',
  holdsWhatHeldIn: '{1} holds what {2} held in {3}.',
  isTheSameAs: '{1} is the same as {2}',
  keyIs: 'key is',
  keysAre: 'keys are',
  theyAreTheSame: 'They are the same records',
  theChangesCouldNot: 'The changes could not be applied.',
  changes: '{1}, changes',
  close: 'Close',
  shownHere: 'Shown here',
  newColumns: 'New columns: {1}.',
  noLongerInThe: 'No longer in the source, and kept here: {1}.',
  cellWas: 'cell was',
  cellsWere: 'cells were',
  keepYourValue: 'keep your value',
  useTheSourcesValue: 'use the source’s value',
  recordsThatAreNo: 'Records that are no longer in the source',
  deleteThemHereToo: 'delete them here too',
  keepThemHere: 'keep them here',
  result: 'Result',
  theFirst100Are: 'The first 100 are shown. All of them are applied.',
  applyChanges: 'Apply changes',
  youCanUndoThis: '{1}. You can undo this.',
  later: 'Later',
  itIsAlsoUpdated: 'It is also updated whenever the file is saved{1}.',
  hasChanges: '{1} {2} has changes: {3}, {4}, {5}. {6}',
  theSameButFor: '{1} the same but for their form: {2} here, {3} there.',
  changedHereByHand: '{1} changed here by hand and in the source too',
} as const;

export const revisions = {
  revisionsOf: 'Revisions of {1}',
  close: 'Close',
  undone: ' · undone',
  whatItChanged: 'What it changed',
  redo: 'Redo',
  undo: 'Undo',
  thisIsWhereThe: 'This is where the list was created. It cannot be undone.',
  theColumnsWereChanged: 'The columns were changed, not the values.',
  theFirstOfRecords: 'The first {1} of {2} records.',
} as const;

export const viewWords = {
  aDeletedColumn: 'a deleted column',
  with: 'with {1}',
  thatContain: 'that contain “{1}”',
  whoseIs: 'whose {1} is {2}',
  whose: 'whose {1} {2} “{3}”',
  inTheOrderOf: 'in the order of',
  inTheReverseOrder: 'in the reverse order of',
  showTheWholeList: 'Show the whole list',
  shown: ' Shown: {1} {2}{3}.{4}',
} as const;

export const workedSentences = {
  addAWorkedColumn: 'Add a worked column',
  nameOfTheNew: 'Name of the new column',
  itIs: 'It is',
  whatItIs: 'What it is',
  createColumn: 'Create column',
  addAStep: 'add a step',
  anotherStepFor: 'Another step for {1}',
  nameOf: 'Name of {1}',
  nameOfTheColumn: 'Name of the column',
  apply: 'Apply',
  deleteColumn: 'Delete column',
  aStepOf: 'A step of {1}',
  removeThisStep: 'Remove this step',
  is: '{1} is {2}{3}{4}{5}',
} as const;
