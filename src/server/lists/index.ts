/** Records, columns and computed columns, problems and their mends, pictures, revisions. Uses judging and access. */
export {
  changeColumn,
  columnsChangeSchema,
  keepWorkedColumn,
  removeWorkedColumn,
  workedColumnSchema,
} from './columns';
export { addRecords, editCells, judgeChanged, removeRecords } from './edits';
export {
  type FetchedPictures,
  fetchPictures,
  freezePictures,
  frozenPicture,
  frozenPictures,
  keepListPicture,
  picturesFor,
} from './list-pictures';
export { listLists } from './list-views';
export {
  createJob,
  createList,
  doubtsOf,
  insertRecords,
  newColumns,
  removeList,
  renameList,
  renameSchema,
} from './lists';
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
} from './revisions';
export { previewSchema, previewWorked } from './worked-preview';
export {
  type RecordToWrite,
  renewJob,
  renewList,
  workOutAll,
  workOutNow,
  writeRecords,
} from './working';
