/**
 * Checkpoints: places where codes are scanned and checked against lists. Their rules, devices,
 * scans and counts.
 */
export { viewBoard } from './board';
export { changeByOneself, checkInByOneself, checkInPage, viewByOneself } from './by-oneself';
export {
  changeCheckpoint,
  listCheckpoints,
  makeCheckpoint,
  removeCheckpoint,
  viewCheckpoint,
} from './checkpoints';
export { addDevice, joinDevice, shutDevice } from './devices';
export { logBook, logCsv } from './log';
export { packFor } from './pack';
export { findRecords, takeBack, takeScans, type Scanner } from './scanning';
export { stateFor } from './state';
export { roundBook, roundPdf } from './round-files';
export {
  closeRound,
  listRounds,
  removeRound,
  reportOfRound,
  scanOnRound,
  settleOnRound,
  startRound,
  unseenAt,
  viewRound,
} from './rounds';
