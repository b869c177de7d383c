import type { ToPrint } from '../../core/run/printer';
import type { Database } from '../platform';
import type { PrintJob } from './print-jobs';

/** A printer as it is kept, as far as sending something to it has to know it. */
export interface KeptPrinter {
  id: number;
  name: string;
  /** Where it is in the network; null of a stand-in. */
  address: string | null;
}

/** A way to print: everything that leaves for a printer goes through one. */
export interface PrinterAdapter {
  /** Whether jobs go on step by step, for which it has to be known what they need. */
  steps: boolean;
  /**
   * Before something is sent: what does not fit, and for what it waits.
   * @param anyPaper what is printed goes to the edges of whatever paper there is
   * @throws Refusal where nothing can be sent to it
   */
  before(
    db: Database,
    printer: KeptPrinter,
    needs: ToPrint,
    anyPaper: boolean,
  ): Promise<{ against: string[]; waits: string | null }>;
  /**
   * The next step of a job that is not over.
   * @returns in how many seconds the next one is due; undefined where there is none
   */
  step(db: Database, job: PrintJob): Promise<number | undefined>;
}
