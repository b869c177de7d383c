import type { ToPrint } from '../../core/run/printer';
import type { Database } from '../platform';
import type { PrintJob } from './print-jobs';

/** A printer as stored, with what is needed to send to it. */
export interface KeptPrinter {
  id: number;
  name: string;
  /** Its network address; null for a test printer. */
  address: string | null;
}

/** A way to print: everything that leaves for a printer goes through one. */
export interface PrinterAdapter {
  /** Whether jobs go on step by step; needed to know what they wait for. */
  steps: boolean;
  /**
   * Before something is sent: what does not fit, and what it waits for.
   * @param anyPaper the print goes to the edges of whatever paper is loaded
   * @throws Refusal if nothing can be sent to it
   */
  before(
    db: Database,
    printer: KeptPrinter,
    needs: ToPrint,
    anyPaper: boolean,
  ): Promise<{ against: string[]; waits: string | null }>;
  /**
   * The next step of a job that is not over.
   * @returns in how many seconds the next one is due; undefined if there is none
   */
  step(db: Database, job: PrintJob): Promise<number | undefined>;
}
