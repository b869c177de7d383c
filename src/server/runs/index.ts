/**
 * Which records a run takes, how it is cut, made, read back and put together, its receipt. Uses
 * jobs, outputs and delivery.
 */
export { endRun } from './making';
export { proofOf } from './proof';
export { readFromPaper } from './paper';
export { listPaperFiles, takePaperFile } from './paper-files';
export { paperSheet } from './paper-sheet';
export { receiptPdf } from './receipt-pdf';
export { receiptCsv, receiptJson, receiptPages, receiptPart } from './receipt';
export { compareRuns, listRuns, runFileFor, viewRun } from './run-views';
export { finishStopped } from './stopped';
export { cancelRun, quickPrint, removeRun, runAgain, startRun, startRunIn } from './runs';
export { waitsBehind } from './waiting';
export { runTasks } from './tasks';
