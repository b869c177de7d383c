/**
 * Verdicts on records, what they were calculated from, and whether they are current. Uses the
 * platform.
 */
export { changed, changedElsewhere, changedJob, isFresh, whenFresh } from './freshness';
export {
  countOf,
  judgePieceNow,
  judgeRecords,
  rejudgeList,
  rejudgePictures,
  rejudgePiece,
  sharersOf,
} from './judge';
export { renewJobCard, renewListCard } from './cards';
export { judgingTasks } from './tasks';
export { documentsFor, pdfsFor, rowsByValue, valuesBeside } from './beside';
