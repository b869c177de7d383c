/**
 * Records, columns and worked columns, problems and their fixes, pictures, revisions. Uses judging
 * and access.
 */
export { changeColumn, keepWorkedColumn, removeWorkedColumn } from './columns';
export { addRecords, editCells, editCellsIn, judgeChanged, removeRecords } from './edits';
export {
  freezePictures,
  frozenPicture,
  frozenPictures,
  listPicture,
  picturesFor,
  picturesNow,
} from './list-pictures';
export { createJob, createList, doubtsOf, insertRecords, newColumns, removeList } from './lists';
export { checkAllThere, checkOwnRecords } from './own';
export { problemCounts } from './problems';
export {
  changedRow,
  dropUndone,
  revise,
  type Step,
  stepBack,
  takeOut,
  turnRevisionIn,
  afterTurn,
} from './revisions';
export { type RecordToWrite, renewJob, renewList, workOutAll, writeRecords } from './working';
export { listTasks } from './tasks';
