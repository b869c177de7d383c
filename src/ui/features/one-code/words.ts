/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const comparison = {
  theSavedVersion: 'the saved version',
  keepForComparison: 'Keep for comparison',
  thenChangeTheSentence: 'then change the sentence. Both are shown side by side.',
  thisOne: 'this one',
  twoVariants: 'Two variants',
  savedVersionAndThis: 'Saved version and this one',
  stopComparing: 'Stop comparing',
  replaceTheSavedVersion: 'Replace the saved version',
  noCode: 'no code',
  byMm: '{1} by {2} mm',
  squaresOfMm: 'squares of {1} mm',
} as const;

export const largeCode = {
  chooseACodeOn: 'Choose a code on the One code screen to show it here.',
  codeOf: 'Code of {1}',
  thereIsNoCode: 'There is no code for this record.',
} as const;

export const oneCode = {
  oneCode: 'One code',
  theCode: 'The code',
  chooseARecordTo: 'Choose a record to see its code.',
  drawing: 'drawing …',
  saveOrCopy: 'Save or copy',
  openTheLoupe: 'Open the loupe',
  showLargeInIts: 'Show large in its own window',
  says: 'Says',
  testScanOfThis: 'Test scan of this code',
  aPhoneWould: 'A phone would',
  trueSizeByMm: 'True size, {1} by {2} mm',
  theCodeAtTrue: 'The code at true size',
  stamp: 'Stamp',
  thisChangesOnlyHere: 'This changes only here. The job keeps its stamp as it is.',
  thisOne: 'this one',
  codeType: 'Code type',
  withItsStamp: 'With its stamp {1}.',
} as const;

export const saveRow = {
  webPagesAndDrawing: 'web pages and drawing programs; sharp at every size',
  documentsSpreadsheetsAndScreens:
    'documents, spreadsheets and screens; whole dots at the chosen size',
  printExactlyAsLarge: 'print; exactly as large as the code',
  printersLayoutProgramsThat: 'printers’ layout programs that ask for it',
  programsThatAcceptNothing: 'programs that accept nothing else; its edges are a little soft',
  thatDidNotWork: 'That did not work. Try again.',
  yourBrowserBlockedCopying: 'Your browser blocked copying. Save the picture instead.',
  copiedAsAPicture: 'Copied as a picture.',
  copy: 'Copy',
  isGoodFor: '{1} is good for {2}.',
} as const;

export const sourcePart = {
  record: 'record {1}',
  whereTheCodeComes: 'Where the code comes from',
  aValueIType: 'a value I type',
  aRecordOf: 'a record of {1}',
  records: '{1} records',
  theRecord: 'The record',
  chooseOne: 'choose one',
  loadingTheJob: 'Loading the job …',
  findByAnyOf: 'Find by any of its words',
  noRecordContainsThese: 'No record contains these words.',
  records2: 'Records',
  moreTypeMoreLetters: '{1} more. Type more letters.',
  oneCodeFor: 'One code for {1}{2}.',
} as const;

export const wearPanel = {
  wearTest: 'Wear test',
  measuring: 'measuring: {1} …',
  stop: 'Stop',
  runTheWearTest: 'Run the wear test again',
  runTheWearTest2: 'Run the wear test',
  eachPointIsA:
    'Each point is a test read of this code, repeated 16 times, or 64 times if that does not decide. Each variant gets the same damage. A range says between which amounts three of four are read. A phone may do better or worse. Distance is for a camera of 1,920 pixels across 65°.',
  thisCodeAndLook: 'This code and look have not been tested yet. The test takes some seconds.',
  noRealDifference: 'no real difference: ',
  toAbout: 'to about',
  upTo: 'up to',
  reads: '{1}reads {2} {3}',
} as const;
