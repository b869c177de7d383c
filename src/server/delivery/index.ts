/** Mail and its server, the Out-tray, printers. */
export { listLetters, writeLetter } from './letters';
export { changeMailServer, mailServerOf, viewMailServer } from './mail-server';
export {
  forgetMails,
  hadMail,
  listMails,
  mailAccount,
  mailCounts,
  type NewMail,
  queueMails,
  sendMailsAgain,
  stopMails,
} from './mails';
export { messageFile, viewMessage, viewOutTray } from './out-tray';
export {
  askPrinterAgain,
  addPrinter,
  changePrinter,
  listPrinters,
  readTestPage,
  removePrinter,
} from './printers';
export { sendToPrinter, stopPrint } from './printing';
export { testPage } from './test-page';
export { deliveryTasks } from './tasks';
export { mailWelcome, tryMailServer } from './trying';
