/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const openRow = {
  drawing: 'drawing …',
  thisRecord: 'this record',
  says: 'Says',
  testScanOfThis: 'Test scan of this code',
  aPhoneWould: 'A phone would',
  levelNeedsNoExtra: 'Level {1} needs no extra room here.',
  loupe: 'Loupe',
  stamps: 'Stamps',
  version: ', version {1}, {2}',
  mmDotsEachAt: '{1} {2} × {3} mm{4}{5} dots each at {6} {7}',
} as const;

export const stamps = {
  code: 'Code',
  editStamp: 'Edit stamp',
  addAStamp: 'Add a stamp',
  nameOfThisStamp: 'Name of this stamp',
  deleteStamp: 'Delete stamp',
  fitsAll: 'fits all',
  fits: 'fits {1}',
  doNotFit: ', {1} do not fit',
  leftOut: ', {1} left out',
  for: '{1} for {2}',
} as const;

export const stampsRows = {
  notScannedYet: 'not scanned yet',
  scanned: 'scanned {1}',
  leftOut: 'left out',
} as const;
