import { clock } from '../platform';
import type { PrintJobView } from '../../contract';
import type { PrinterAdapter } from './printer';

/** The test printer prints a sheet in this time, in ms, after warming up. */
const sheetTime = 700;
const warmUp = 1500;

/** What is needed to calculate the progress of a job. */
interface Sent {
  sheets: number;
  sent_at: Date;
  stopped_at: Date | null;
}

/** The progress of a test printer with a job about which nothing else is known. */
export function byTheClock(job: Sent): Pick<PrintJobView, 'state' | 'printed'> {
  const passed = (job.stopped_at ?? clock.date()).getTime() - job.sent_at.getTime() - warmUp;
  const printed = Math.max(0, Math.min(job.sheets, Math.floor(passed / sheetTime)));
  if (printed >= job.sheets) return { state: 'printed', printed };
  if (job.stopped_at) return { state: 'stopped', printed };
  return { state: passed < 0 ? 'waiting' : 'printing', printed };
}

/** A test printer that makes nothing: its progress follows from when the job was sent. */
export const clockPrinter: PrinterAdapter = {
  steps: false,
  before: () => Promise.resolve({ against: [], waits: null }),
  step: () => Promise.resolve(undefined),
};
