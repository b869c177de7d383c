/** Mail and its server, the Out-tray, printers. */
export { writeLetter } from './letters';
export { changeMailServer, mailServerOf, viewMailServer } from './mail-server';
export {
  forgetMails,
  hadMail,
  mailCounts,
  type NewMail,
  queueMails,
  sendMailsAgain,
} from './mails';
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
