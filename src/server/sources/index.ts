/**
 * Where records come from: files and their parsers, databases, folders, the In-tray; reading again.
 */
export { rereadRows } from './comparison';
export { forgetConnection, keepConnection, listConnections, tablesOf } from './connections';
export { tooLarge } from './files/book';
export { endIntake } from './intake';
export { askIntake, readAgain } from './reread';
export { holdTray } from './tray-watch';
export { readPaperCard } from './cards';
export { hearPaper, printedFolder } from './paper-tray';
export { trayFiles } from './tray-files';
export { trayEntries, trayFolder, trayOthers, printedFile, trayPdf, trayPdfs } from './tray';

export {
  beginTaking,
  dropIntake,
  fetchIntake,
  readIntakeAs,
  sayIntakeSame,
  viewIntake,
} from './asking';
export { sourceTasks } from './tasks';
