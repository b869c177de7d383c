/**
 * Documents of jobs, what the ledger shows and in which order, stamps, what is kept for other jobs.
 * Uses lists.
 */
export { copyJob } from './copy';
export { addJob, changeJob, hiddenFrom, jobIsThere, latestJob, ledgerRows, viewJob } from './jobs';
export { listKept } from './kept';
export { orderOf, sortedBy, wholeList } from './order';
export { stampOf } from './stamps';
export { stepJob } from './steps';
