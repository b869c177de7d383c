import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import { readRun } from '../../core/job/document';
import { makePiece } from '../../core/piece/piece';
import { stockOf } from '../../core/piece/stock';
import { markMargin } from '../../core/run/plan';
import { doesNotFit, freeEdges, onTheWay, type ToPrint } from '../../core/run/printer';
import {
  askOptions,
  type Database,
  enqueue,
  fileHead,
  fontsOf,
  log,
  readFilePieces,
  Refusal,
  Unreached,
} from '../platform';
import { printCard } from './cards';
import { IppPrinter, isNamed, type PrintDocument, PrinterRefused } from './ipp';
import { printOnPaper } from './stand-in-paper';
import { testPage, testPageSize } from './test-page';

/** Asks for the next step of a print job, in place of one that is asked for already. */
const askForPrint = (db: Database, job: number, inSeconds = 0): Promise<void> =>
  enqueue(db, printCard, { job }, { key: `print-${job}`, inSeconds });

const lockClass = 7_303;
/** How long a printer is tried that does not answer, in hours. */
const triedHours = 24;
/** Pauses between looks, in seconds. */
const looks = { printing: 2, held: 5 };
const pauseAfter = (tries: number): number => Math.min(60, 2 ** Math.min(tries, 6));

/**
 * The next step of a print job: hands it over, or looks how it stands. A document goes to a printer
 * once: before it is handed over again, the printer is asked whether it has it, and where nobody
 * can know, it is not.
 */
export async function stepPrint(db: Database, job: number): Promise<void> {
  await db.connection().execute(async (held) => {
    // one hand at a time for a job, on this connection, gone with it
    const { rows } = await sql<{
      mine: boolean;
    }>`select pg_try_advisory_lock(${lockClass}, ${job}) as mine`.execute(held);
    if (!rows[0]?.mine) return askForPrint(held, job, 3);
    try {
      const pause = await step(held, job);
      if (pause !== undefined) await askForPrint(held, job, pause);
    } finally {
      await sql`select pg_advisory_unlock(${lockClass}, ${job})`.execute(held);
    }
  });
}

const jobOf = (db: Database, job: number) =>
  db
    .selectFrom('print_jobs')
    .innerJoin('printers', 'printers.id', 'print_jobs.printer_id')
    .selectAll('print_jobs')
    .select(['printers.address', 'printers.faults', 'printers.dpi', 'printers.id as printer'])
    .where('print_jobs.id', '=', job)
    .executeTakeFirst();
type Job = NonNullable<Awaited<ReturnType<typeof jobOf>>>;

/** @returns in how many seconds the next step is due; undefined where there is none */
async function step(db: Database, id: number): Promise<number | undefined> {
  const job = await jobOf(db, id);
  if (!job || !onTheWay.some((state) => state === job.state)) return undefined;
  if (job.stopped_at && job.state === 'waiting') return ended(db, id, 'stopped', '');
  if (job.address === null)
    return (await printOnPaper(db, job, await documentOf(db, job))) ? undefined : 1;
  const printer = new IppPrinter(job.address, await askOptions(db));
  try {
    if (job.state === 'waiting') return await handOver(db, job, printer);
    if (job.state === 'sending') return await whetherTaken(db, job, printer);
    return await look(db, job, printer);
  } catch (error) {
    if (error instanceof PrinterRefused)
      return job.state === 'waiting'
        ? ended(db, id, 'failed', `The printer refused: ${error.message}.`)
        : ended(db, id, 'unsure', `The printer does not tell: ${error.message}. ${lookYourself}`);
    if (!(error instanceof Unreached)) throw error;
    if (error.lasting && job.state === 'waiting')
      return ended(db, id, 'failed', `Nothing was sent: ${error.message}.`);
    return later(db, job, error.message);
  }
}

/** Tries again after a pause, or gives up after a day. */
async function later(db: Database, job: Job, why: string): Promise<number | undefined> {
  if (Date.now() - job.sent_at.getTime() > triedHours * 3_600_000)
    return job.state === 'waiting'
      ? ended(db, job.id, 'failed', `Nothing was sent: ${why}, for a day.`)
      : ended(db, job.id, 'unsure', `The printer does not answer any more. ${lookYourself}`);
  await db
    .updateTable('print_jobs')
    .set({ tries: job.tries + 1, reason: `${why}; it is tried again` })
    .where('id', '=', job.id)
    .execute();
  return pauseAfter(job.tries + 1);
}

const lookYourself = 'Look whether it came out before you send it again.';

async function ended(
  db: Database,
  id: number,
  state: 'printed' | 'stopped' | 'failed' | 'unsure',
  reason: string,
  printed?: number,
): Promise<undefined> {
  await db
    .updateTable('print_jobs')
    .set({
      state,
      reason,
      ended_at: new Date(),
      ...(printed === undefined ? {} : { printed }),
    })
    .where('id', '=', id)
    .where('state', 'in', onTheWay)
    .execute();
}

/**
 * Asks the printer what it is, keeps that, and says for how long it has been on. @throws Unreached,
 * PrinterRefused
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
      .set({ ...set, asked_at: new Date() })
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
    .set({ state: 'sending', began_at: new Date(), reason: '' })
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
    // whether it was taken, only the printer knows
    if (error instanceof Unreached) return 1;
    if (!(error instanceof PrinterRefused) || !/busy|not-accepting/.test(error.status)) throw error;
    await db
      .updateTable('print_jobs')
      .set({ state: 'waiting' })
      .where('id', '=', job.id)
      .where('state', '=', 'sending')
      .execute();
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

/** How far the clocks of this machine and of a printer may be apart in counting seconds, in ms. */
const slack = 3000;

/**
 * A document was begun to be handed over by somebody who is gone, or whose line broke: does the
 * printer have it?
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
  const onSince = upSeconds === undefined ? Infinity : Date.now() - upSeconds * 1000;
  if (onSince > job.began_at!.getTime() - slack)
    return ended(
      db,
      job.id,
      'unsure',
      `It was broken off while it was handed over, and the printer cannot say whether it has it. ${lookYourself}`,
    );
  await db
    .updateTable('print_jobs')
    .set({ state: 'waiting' })
    .where('id', '=', job.id)
    .where('state', '=', 'sending')
    .execute();
  return 0;
}

/** How a job stands at its printer. */
async function look(db: Database, job: Job, printer: IppPrinter): Promise<number | undefined> {
  const there = await printer.job(job.job_there!);
  // a printer that was switched off begins to count anew, and the number is somebody else's
  if (!there || !isNamed(there, job.name_there!))
    return ended(
      db,
      job.id,
      'unsure',
      `The printer does not know this job any more. ${lookYourself}`,
    );
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
      inSentence(there.reasons) || 'The printer gave it up.',
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

/** What a print job prints. @throws Refusal where it is not kept any more */
async function documentOf(db: Database, job: Job): Promise<PrintDocument> {
  if (job.test_page) {
    const bytes = await testPage(db, job.printer);
    return { size: bytes.length, parts: oneOf(bytes) };
  }
  const file = await pdfOf(db, job.run_id!);
  return { size: file.size, parts: readFilePieces(db, file.id) };
}

async function* oneOf(bytes: Uint8Array) {
  yield bytes;
}

async function pdfOf(db: Database, run: number) {
  const found = await db
    .selectFrom('files')
    .select('id')
    .where('run_id', '=', run)
    .where('mime', '=', 'application/pdf')
    .orderBy('id')
    .executeTakeFirst();
  if (!found) throw new Refusal('The PDF of this run is not kept any more. Make it again.');
  return fileHead(db, found.id);
}

/** What a finished run needs of a printer. @throws Refusal */
async function needsOf(db: Database, runId: number): Promise<ToPrint> {
  await pdfOf(db, runId);
  const { frozen } = await db
    .selectFrom('runs')
    .select('frozen')
    .where('id', '=', runId)
    .executeTakeFirstOrThrow();
  const { piece, options, stamps } = readRun(frozen);
  const stock = stockOf(piece);
  const item = await db
    .selectFrom('run_items')
    .select('values')
    .where('run_id', '=', runId)
    .orderBy('seq')
    .executeTakeFirst();
  const values = item?.values ?? {};
  const made = makePiece(piece, stock, stamps, values, fontsOf(piece, [values]));
  const margin = options.marks ? markMargin : 0;
  return {
    page: { width: stock.page.width + 2 * margin, height: stock.page.height + 2 * margin },
    free: freeEdges(stock, made.covered, margin),
    dpi: [...new Set(made.codes.map((code) => code.dpi))],
  };
}

/** Longest that somebody waits for a printer to say what it is, in ms. */
const waits = 4000;

export interface Sent {
  sent: boolean;
  /** What does not fit, where it was not sent for that. */
  against: string[];
  /** That it waits, and for what. */
  waits: string | null;
}

/**
 * Sends a finished run, or a printer's test page, to a printer. A real one is asked first, and what
 * does not fit is told and not sent, unless it is to be sent anyway; one that does not answer gets
 * it when it does.
 * @throws Refusal
 */
export async function sendToPrinter(
  db: Database,
  printerId: number,
  what: { run: number } | 'test page',
  anyway = false,
): Promise<Sent> {
  const printer = await db
    .selectFrom('printers')
    .selectAll()
    .where('id', '=', printerId)
    .executeTakeFirst();
  if (!printer) throw new Refusal('There is no such printer.', 404);
  const run = what === 'test page' ? undefined : await finished(db, what.run);
  const real = printer.address !== null;
  const needs: ToPrint | undefined =
    !real && !printer.into_tray
      ? undefined
      : run
        ? await needsOf(db, run.id)
        : {
            page: testPageSize(printer.facts),
            free: { left: 0, right: 0, top: 0, bottom: 0 },
            dpi: [],
          };
  let waitsFor: string | null = null;
  // its rulers begin at the very edge, so that it shows what is lost there
  if (printer.address !== null && needs)
    try {
      const { facts } = await askPrinter(db, printerId, printer.address, waits);
      const against = doesNotFit(
        facts,
        run ? needs : { ...needs, free: { left: 99, right: 99, top: 99, bottom: 99 } },
      );
      if (against.length > 0 && !anyway) return { sent: false, against, waits: null };
      waitsFor = facts.trouble;
    } catch (error) {
      if (error instanceof PrinterRefused)
        throw new Refusal(`${printer.name} refused: ${error.message}.`);
      if (!(error instanceof Unreached)) throw error;
      if (error.lasting) throw new Refusal(`${printer.name}: ${error.message}.`);
      waitsFor = `${error.message} now, and gets it as soon as it does`;
    }
  await db.transaction().execute(async (tx) => {
    const made = await tx
      .insertInto('print_jobs')
      .values({
        printer_id: printerId,
        run_id: run?.id ?? null,
        name: run?.name ?? `Test page of ${printer.name}`,
        sheets: run?.sheets ?? 1,
        test_page: !run,
        ...(needs
          ? {
              state: 'waiting' as const,
              needs: JSON.stringify(needs),
              anyway: anyway || !run,
              name_there: `HS-${randomBytes(5).toString('hex')} ${(run?.name ?? 'Test page').slice(0, 80)}`,
            }
          : {}),
      })
      .onConflict((c) =>
        c.columns(['printer_id', 'run_id']).where('state', 'in', onTheWay).doNothing(),
      )
      .returning('id')
      .executeTakeFirst();
    if (!made)
      throw new Refusal(
        `${run!.name} is on its way to ${printer.name} already; see the Post room.`,
      );
    if (needs) await askForPrint(tx, made.id);
  });
  log.info({ printer: printerId, run: run?.id, real }, 'sent to a printer');
  return { sent: true, against: [], waits: waitsFor };
}

async function finished(db: Database, id: number) {
  const run = await db
    .selectFrom('runs')
    .select(['id', 'name', 'sheets', 'state'])
    .where('id', '=', id)
    .executeTakeFirst();
  if (run?.state !== 'done' || run.sheets === 0)
    throw new Refusal('Only a finished PDF for print can be sent to a printer.');
  return run;
}

/** Calls a print job off; what came out, came out. */
export async function stopPrint(db: Database, id: number): Promise<void> {
  const stopped = await db
    .updateTable('print_jobs')
    .set({ stopped_at: new Date() })
    .where('id', '=', id)
    .where('stopped_at', 'is', null)
    .returning('state')
    .executeTakeFirst();
  if (stopped?.state) await askForPrint(db, id);
}

/** Says of a print job that it is not gone on with. */
export async function giveUpPrint(db: Database, id: number, why: string): Promise<void> {
  await ended(db, id, 'failed', `It could not be printed: ${why}.`);
}
