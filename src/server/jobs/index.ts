/** Documents of jobs, what the ledger shows and in which order, stamps, what is kept for other jobs. Uses lists. */
export { symbologyFits } from './fits';
export {
  addJob,
  changeJob,
  jobChangeSchema,
  jump,
  jumpSchema,
  ledgerRows,
  listJobs,
  newJobSchema,
  removeJob,
  rowsQuerySchema,
  viewJob,
} from './jobs';
export { keep, keepSchema, listKept } from './kept';
export { orderOf, sortedBy, sortSchema, viewSchema, wholeList } from './order';
export { sealedSymbols } from './sealed-symbol';
export { blankSheet, sheetSchema, startTypedList, typedListSchema } from './sheets';
export { stampOf } from './stamps';
export { stepJob } from './steps';
