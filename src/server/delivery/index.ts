/** The Out-tray and printers. */
export { listLetters, writeLetter } from './letters';
export { keepPrinter, listPrinters, sendToPrinter, stopPrint, testPage } from './printers';
