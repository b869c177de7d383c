import { doesNotFit } from '../../core/run/printer';
import { clock, askOptions, type Database, Refusal, Unreached } from '../platform';
import { IppPrinter, isNamed, PrinterRefused } from './ipp';
import { documentOf, ended, type PrintJob as Job } from './print-jobs';
import type { PrinterAdapter } from './printer';

/** How long a printer is tried that does not answer, in hours. */
const triedHours = 24;
/** Pauses between looks, in seconds. */
const looks = { printing: 2, held: 5 };
const pauseAfter = (tries: number): number => Math.min(60, 2 ** Math.min(tries, 6));

/** The longest that a person waits for a printer's description, in ms. */
const waits = 4000;

/**
 * A network printer, reached by IPP. A document is sent once: before a second try the printer is
 * asked whether it has it, and if nobody can know, it is not sent again.
 */
export const networkPrinter: PrinterAdapter = {
  steps: true,
  async before(db, printer, needs, anyPaper) {
    try {
      const { facts } = await askPrinter(db, printer.id, printer.address!, waits);
      // rulers begin at the very edge, so that they show what is lost there
      const free = { left: 99, right: 99, top: 99, bottom: 99 };
      return {
        against: doesNotFit(facts, anyPaper ? { ...needs, free } : needs),
        waits: facts.trouble,
      };
    } catch (error) {
      if (error instanceof PrinterRefused)
        throw new Refusal(`${printer.name} refused: ${error.message}.`);
      if (!(error instanceof Unreached)) throw error;
      if (error.lasting) throw new Refusal(`${printer.name}: ${error.message}.`);
      return { against: [], waits: `${error.message} now, and gets it as soon as it does` };
    }
  },
  step,
};

async function step(db: Database, job: Job): Promise<number | undefined> {
  const printer = new IppPrinter(job.address!, await askOptions(db));
  try {
    if (job.state === 'waiting') return await handOver(db, job, printer);
    if (job.state === 'sending') return await whetherTaken(db, job, printer);
    return await look(db, job, printer);
  } catch (error) {
    if (error instanceof PrinterRefused)
      return job.state === 'waiting'
        ? ended(db, job.id, 'failed', `The printer refused: ${error.message}.`)
        : ended(
            db,
            job.id,
            'unsure',
            `The printer gives no details: ${error.message}. ${lookYourself}`,
          );
    if (!(error instanceof Unreached)) throw error;
    if (error.lasting && job.state === 'waiting')
      return ended(db, job.id, 'failed', `Nothing was sent: ${error.message}.`);
    return later(db, job, error.message);
  }
}

/** Tries again after a pause, or gives up after a day. */
async function later(db: Database, job: Job, why: string): Promise<number | undefined> {
  if (clock.now() - job.sent_at.getTime() > triedHours * 3_600_000)
    return job.state === 'waiting'
      ? ended(db, job.id, 'failed', `Nothing was sent: ${why}, for a day.`)
      : ended(db, job.id, 'unsure', `The printer no longer answers. ${lookYourself}`);
  await db
    .updateTable('print_jobs')
    .set({ tries: job.tries + 1, reason: `${why}; Hand Stamp will try again` })
    .where('id', '=', job.id)
    .execute();
  return pauseAfter(job.tries + 1);
}

const lookYourself = 'Check whether it was printed before you send it again.';

/**
 * Asks the printer for its description, stores it, and returns for how long it has been on. @throws
 * Unreached, PrinterRefused
 */
export async function askPrinter(
  db: Database,
  id: number,
  address: string,
  timeLimit?: number,
): Promise<Awaited<ReturnType<IppPrinter['facts']>>> {
  const printer = new IppPrinter(address, { ...(await askOptions(db)), timeLimit });
  const keep = (set: { facts?: string; trouble: string | null }) =>
    db
      .updateTable('printers')
      .set({ ...set, asked_at: clock.date() })
      .where('id', '=', id)
      .where('address', '=', address)
      .execute();
  try {
    const told = await printer.facts();
    await keep({ facts: JSON.stringify(told.facts), trouble: null });
    return told;
  } catch (error) {
    if (error instanceof Unreached || error instanceof PrinterRefused)
      await keep({ trouble: error.message });
    throw error;
  }
}

async function handOver(db: Database, job: Job, printer: IppPrinter): Promise<number | undefined> {
  const { facts } = await askPrinter(db, job.printer, job.address!);
  const against = job.needs && !job.anyway ? doesNotFit(facts, job.needs) : [];
  if (against.length > 0)
    return ended(db, job.id, 'failed', `Nothing was sent. ${against.join(' ')}`);
  const document = await documentOf(db, job);
  const begun = await db
    .updateTable('print_jobs')
    .set({ state: 'sending', began_at: clock.date(), reason: '' })
    .where('id', '=', job.id)
    .where('state', '=', 'waiting')
    .where('stopped_at', 'is', null)
    .returning('id')
    .executeTakeFirst();
  if (!begun) return 0;
  try {
    const there = await printer.print(job.name_there!, job.needs!.page, document);
    await taken(db, job.id, there);
    return looks.printing;
  } catch (error) {
    // only the printer knows whether it accepted it
    if (error instanceof Unreached) return 1;
    if (!(error instanceof PrinterRefused) || !/busy|not-accepting/.test(error.status)) throw error;
    await notTaken(db, job.id);
    return later(db, { ...job, state: 'waiting' }, error.message);
  }
}

const taken = (db: Database, id: number, there: number) =>
  db
    .updateTable('print_jobs')
    .set({ state: 'printing', job_there: there, tries: 0, reason: '' })
    .where('id', '=', id)
    .where('state', '=', 'sending')
    .execute();

/** It was not accepted, and may be sent again. */
const notTaken = (db: Database, id: number) =>
  db
    .updateTable('print_jobs')
    .set({ state: 'waiting' })
    .where('id', '=', id)
    .where('state', '=', 'sending')
    .execute();

/**
 * How far the clocks of this computer and of a printer may differ when they count seconds, in ms.
 */
const slack = 3000;

/**
 * A document was being sent when the process died or the connection broke: does the printer have
 * it?
 */
async function whetherTaken(
  db: Database,
  job: Job,
  printer: IppPrinter,
): Promise<number | undefined> {
  const there = await printer.jobNamed(job.name_there!);
  if (there) {
    await taken(db, job.id, there.id);
    return 0;
  }
  if (job.stopped_at) return ended(db, job.id, 'stopped', '');
  const { upSeconds } = await askPrinter(db, job.printer, job.address!);
  const onSince = upSeconds === undefined ? Infinity : clock.now() - upSeconds * 1000;
  if (onSince > job.began_at!.getTime() - slack)
    return ended(
      db,
      job.id,
      'unsure',
      `The connection broke while sending, and the printer cannot say whether it has the job. ${lookYourself}`,
    );
  await notTaken(db, job.id);
  return 0;
}

/** The state of a job at its printer. */
async function look(db: Database, job: Job, printer: IppPrinter): Promise<number | undefined> {
  const there = await printer.job(job.job_there!);
  // a printer that was switched off starts its numbers again, and this one is another job's
  if (!there || !isNamed(there, job.name_there!))
    return ended(db, job.id, 'unsure', `The printer no longer knows this job. ${lookYourself}`);
  if (job.stopped_at) await printer.callOff(there.id);
  const sheets = Math.min(job.sheets, there.sheets ?? 0);
  if (there.state === 'completed') return ended(db, job.id, 'printed', '', job.sheets);
  if (there.state === 'canceled')
    return ended(db, job.id, 'stopped', inSentence(there.reasons), sheets);
  if (there.state === 'aborted')
    return ended(
      db,
      job.id,
      'failed',
      inSentence(there.reasons) || 'The printer cancelled it.',
      sheets,
    );
  const { facts } = await askPrinter(db, job.printer, job.address!);
  const reasons = [...new Set([...there.reasons, ...(facts.trouble ? [facts.trouble] : [])])];
  const held =
    there.state === 'pending-held' ||
    there.state === 'processing-stopped' ||
    facts.trouble !== null;
  await db
    .updateTable('print_jobs')
    .set({
      state: held ? 'held' : 'printing',
      printed: sheets,
      reason: reasons.join(', '),
      tries: 0,
    })
    .where('id', '=', job.id)
    .where('state', 'in', ['printing', 'held'])
    .execute();
  return held ? looks.held : looks.printing;
}

const inSentence = (reasons: readonly string[]): string =>
  reasons.length === 0 ? '' : `The printer says: ${reasons.join(', ')}.`;
