/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const context = {
  records: 'Records',
  stamps: 'Stamps',
  piece: 'Piece',
  run: 'Run',
  usedOutsideAJob: 'used outside a job',
} as const;

export const frame = {
  jobs: 'Jobs',
  lists: 'Lists',
  oneCode: 'One code',
  links: 'Links',
  checkpoints: 'Checkpoints',
  standingOrders: 'Standing orders',
  bringInRecords: 'Bring in records',
  postRoom: 'Post room',
  settings: 'Settings',
  youDoNotHave: 'You do not have access to this page',
  allJobs: 'All jobs',
  handStampAllJobs: 'Hand Stamp, all jobs',
  main: 'Main',
  askAnAdministratorTo: 'Ask an administrator to change your role. Go to {1}.',
} as const;

export const helpMenu = {
  bringingInRecords: 'Bringing in records',
  listsAndRecords: 'Lists and records',
  aJobFromRecords: 'A job, from records to print',
  yourFirstBadges: 'Your first badges',
  oneCode: 'One code',
  links: 'Links',
  checkpoints: 'Checkpoints',
  rounds: 'Rounds',
  standingOrders: 'Standing orders',
  thePostRoom: 'The Post room',
  settings: 'Settings',
  people: 'People',
  theJournal: 'The journal',
  programsAndAPIKeys: 'Programs and API keys',
  help: 'Help',
  helpForThisScreen: 'Help for this screen: {1}',
  guide: 'Guide',
  glossary: 'Glossary',
  aboutHandStamp: 'About Hand Stamp',
  showKeyboardShortcuts: 'Show keyboard shortcuts',
} as const;

export const jobHead = {
  needsALook: 'needs a look',
  leftOut: 'left out',
  notPrinted: 'not printed',
  changedSince: 'changed since',
  youInAnotherWindow: 'you, in another window',
  isHere: ' is here',
  record: 'record {1}',
  and: ' and {1}',
  workingOutColumnsTo: ' · working out columns, {1} to go',
  checkingToGo: ' · checking, {1} to go',
  search: 'Search',
  searchTheRecords: 'Search the records',
  whichRecords: 'Which records',
  goToRun: 'Go to Run',
  fromAsOf: '{1}{2}{3}, {4}, from {5} as of {6}{7}{8}',
} as const;

export const jobPart = {
  renameShareOrDelete: 'Rename, share or delete this job',
  nameOfThisJob: 'Name of this job',
  rename: 'Rename',
  thisJob: 'this job',
  thisDeletesItsPiece:
    'This deletes its piece, its runs and their files. The list {1} with its {2} records is deleted too, because no other job uses it. This cannot be undone.',
  thisDeletesItsPieceIts:
    'This deletes its piece, its runs and their files. The list {1} stays, because other jobs use it. This cannot be undone.',
} as const;

export const looksOnly = {
  youCanViewIt: 'you can view it',
  yourRoleForThis: 'Your role for this job',
  youCanSeeThis:
    'You can see this job but not change it. To change it, ask someone who can to share it with you.',
  orMakeACopy:
    'Or make a copy of your own, with its records, stamps and piece as they are now. Secret values are not copied.',
  copying: 'Copying …',
  makeMyOwnCopy: 'Make my own copy',
} as const;

export const loupe = {
  noRecordIsSelected: 'No record is selected.',
  theCodeEnlarged: 'The code, enlarged',
  drawing: 'drawing …',
  close: 'Close',
  readItFrom: 'Read it from',
  theFinishedPiece: 'the finished piece',
  thisArtwork: 'this artwork',
  theCamera: 'the camera',
  aPicture: 'a picture',
  says: 'Says',
  testScanOfThe: 'Test scan of the finished piece',
  testScanOfThis: 'Test scan of this code',
  ofItsErrorCorrection: '{1}% of its error correction is unused.',
  aPhoneWould: 'A phone would',
  trueSizeMmWith: 'True size, {1} mm with its quiet zone',
  theCodeAtTrue: 'The code at true size',
  result: 'Result',
} as const;

export const meMenu = {
  yourAccount: '{1}: your account',
  yourSignIn: 'Your sign-in',
  people: 'People',
  journal: 'Journal',
  programsAndAPIKeys: 'Programs and API keys',
  inThisDemoYou: 'In this demo you can be any of the garden’s people:',
  be: 'Be {1}',
  signOut: 'Sign out',
} as const;

export const scanPanel = {
  noCodeWasFound:
    '{1} No code was found in this picture. Try one that is sharper, straighter or closer.',
  itSaysWhatThis: 'It says what this record should say.',
  itSaysSomethingDifferent: 'It says something different from this record.',
  aPhoneWould: '{1}; a phone would {2}.',
  isNotAPicture: '{1} is not a picture that can be opened here. Choose a PNG, JPEG or WebP file.',
  chooseAPictureOf: 'Choose a picture of a code',
  noCameraOnThis: 'no camera on this page',
  cameraPicture: 'Camera picture',
  holdTheCodeIn: 'Hold the code in front of the camera.',
  scanAgain: 'Scan again',
} as const;

export const shortcuts = {
  previousRecordNextRecord: 'previous record, next record',
  openRecordsStampsPiece: 'open Records, Stamps, Piece, Run',
  openTheLoupeOn: 'open the loupe on the code of the selected row',
  previousCellNextCell: 'previous cell, next cell (Records open)',
  editTheSelectedCell: 'edit the selected cell; Delete empties it',
  aLetter: 'a letter',
  onceACellIs: 'once a cell is selected: type over it; Escape turns shortcuts back on',
  ctrlCCtrlV: 'Ctrl C, Ctrl V',
  copyTheSelectedCell: 'copy the selected cell; paste into it and the cells next to it and below',
  tickTheSelectedRow: 'tick the selected row',
  shortenTheSentenceOr: 'shorten the sentence, or show all of it',
  searchTheRecords: 'search the records',
  ctrlZCtrlY: 'Ctrl Z, Ctrl Y',
  undoRedo: 'undo, redo',
  theseShortcuts: 'these shortcuts',
  keyboardShortcuts: 'Keyboard shortcuts',
  singleKeyShortcutsOn: 'Single-key shortcuts on',
  whenOffHoldAlt:
    'When off, hold Alt with the key. This avoids changes by voice input or by accident.',
} as const;

export const signedOut = {
  signInAgain: 'Sign in again',
  youAreSignedOut: 'You are signed out here, so nothing is saved from now on.{1}',
} as const;

export const spine = {
  record: 'Record',
  none: 'none',
  rowOf: 'row {1} of {2}',
  noRecords: 'no records',
  noTitle: '(no title)',
  tick: 'Tick {1}',
  atThisRecord: '{1} {2} at this record',
  ticked: '{1} ticked {2}',
} as const;

export const tickedBar = {
  theTickedRecords: 'The ticked records',
  ticked: '{1} {2} ticked',
  printCodesWithTitles: 'Print codes with titles',
  chooseTheseForA: 'Choose these for a run',
  removeFromTheList: 'Remove from the list',
  tickAll: 'Tick all {1} {2}',
  untick: 'Untick',
  startAStandingOrder: 'Start a standing order',
  startAStandingOrderFor: 'Start a standing order for them',
  startedFor: 'started for {1} {2}',
} as const;

export const verdict = {
  keptBackItSays: 'kept back: it says a secret',
} as const;
