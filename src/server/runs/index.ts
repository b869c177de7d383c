/**
 * Which records a run takes, how it is cut, made, read back and put together, its receipt. Uses
 * jobs, outputs and delivery.
 */
export { endRun } from './making';
export { proofOf } from './proof';
export { readFromPaper } from './paper';
export { listPaperFiles, takePaperFile } from './paper-files';
export { paperSheet } from './paper-sheet';
export { receiptPages, receiptPart } from './receipt';
export { listRuns, runFileFor, viewRun } from './run-views';
export { finishStopped } from './stopped';
export { runAgain, startRun, startRunIn } from './runs';
export { runTasks } from './tasks';
