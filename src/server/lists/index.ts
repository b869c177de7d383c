/**
 * Records, columns and computed columns, problems and their mends, pictures, revisions. Uses
 * judging and access.
 */
export { changeColumn, keepWorkedColumn, removeWorkedColumn } from './columns';
export { addRecords, editCells, editCellsIn, judgeChanged, removeRecords } from './edits';
export {
  fetchPictures,
  freezePictures,
  frozenPicture,
  frozenPictures,
  keepListPicture,
  listPicture,
  pictureNames,
  picturesFor,
  picturesNow,
} from './list-pictures';
export { listLists, listLookups } from './list-views';
export {
  createJob,
  createList,
  doubtsOf,
  insertRecords,
  newColumns,
  removeList,
  renameList,
} from './lists';
export { checkAllThere, checkOwnRecords } from './own';
export { mend, problemCounts, problemRows } from './problems';
export {
  changedRow,
  dropUndone,
  listRevisions,
  revise,
  revisionRows,
  type Step,
  stepBack,
  takeOut,
  turnRevision,
  turnRevisionIn,
  afterTurn,
} from './revisions';
export { previewWorked } from './worked-preview';
export { type RecordToWrite, renewJob, renewList, workOutAll, writeRecords } from './working';
export { listTasks } from './tasks';
