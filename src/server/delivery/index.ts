/** The Out-tray and printers. */
export { listLetters, writeLetter } from './letters';
export {
  keepPrinter,
  listPrinters,
  printerSchema,
  sendToPrinter,
  stopPrint,
  testPage,
} from './printers';
