/**
 * Verdicts on records, what they were worked out from, and whether they are still fresh. Uses the
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
