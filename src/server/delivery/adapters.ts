import { networkPrinter } from './network-printer';
import type { PrinterAdapter } from './printer';
import { clockPrinter } from './stand-in-clock';
import { paperPrinter } from './stand-in-paper';

/** How a printer prints: over the network if it has an address, else as a test printer. */
export function printerAdapter(printer: {
  address: string | null;
  into_tray: boolean;
}): PrinterAdapter {
  if (printer.address !== null) return networkPrinter;
  return printer.into_tray ? paperPrinter : clockPrinter;
}
