/** Where records come from: files and their parsers, databases, folders, the In-tray; updates. */
export { endIntake } from './intake';
export { holdTray } from './tray-watch';
export { readPaperCard } from './cards';
export { hearPaper, printedFolder } from './paper-tray';
export { trayFiles } from './tray-files';
export { trayEntries, trayFolder, printedFile, trayPdf, trayPdfs } from './tray';

export { viewIntake } from './asking';
export { sourceTasks } from './tasks';
