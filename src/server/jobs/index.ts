/**
 * Documents of jobs, what the ledger shows and in which order, stamps, what is kept for other jobs.
 * Uses lists.
 */
export { symbologyFits } from './fits';
export { copyJob } from './copy';
export {
  addJob,
  changeJob,
  jump,
  hiddenFrom,
  jobIsThere,
  latestJob,
  ledgerRows,
  listIdOf,
  listJobs,
  removeJob,
  viewJob,
} from './jobs';
export { forgetKept, keep, listKept } from './kept';
export { orderOf, sortedBy, wholeList } from './order';
export { sealedSymbols } from './sealed-symbol';
export { blankSheet, startTypedList } from './sheets';
export { stampOf } from './stamps';
export { stepJob } from './steps';
