/**
 * Documents of jobs, the rows and the order of the ledger, stamps, and what is saved for other
 * jobs. Uses lists.
 */
export { copyJob } from './copy';
export { addJob, changeJob, hiddenFrom, jobIsThere, latestJob, ledgerRows, viewJob } from './jobs';
export { listKept } from './kept';
export { orderOf, sortedBy, wholeList } from './order';
export { stampOf } from './stamps';
export { stepJob } from './steps';
