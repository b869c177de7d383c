import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import { readRun } from '../../core/job/document';
import { makePiece } from '../../core/piece/piece';
import { stockOf } from '../../core/piece/stock';
import { markMargin } from '../../core/run/plan';
import { freeEdges, onTheWay, type ToPrint } from '../../core/run/printer';
import { clock, type Database, enqueue, fontsOf, log, Refusal } from '../platform';
import { printerAdapter } from './adapters';
import { printCard } from './cards';
import { ended, jobOf, pdfOf } from './print-jobs';
import { testPageSize } from './test-page';

/** Queues the next step of a print job, in place of one that is queued already. */
const askForPrint = (db: Database, job: number, inSeconds = 0): Promise<void> =>
  enqueue(db, printCard, { job }, { key: `print-${job}`, inSeconds });

const lockClass = 7_303;
/** The next step of a print job: sends it, or checks its state. */
export async function stepPrint(db: Database, job: number): Promise<void> {
  await db.connection().execute(async (held) => {
    // one worker per job at a time, by a lock that ends with this connection
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

/** @returns in how many seconds the next step is due; undefined if there is none */
async function step(db: Database, id: number): Promise<number | undefined> {
  const job = await jobOf(db, id);
  if (!job || !onTheWay.some((state) => state === job.state)) return undefined;
  if (job.stopped_at && job.state === 'waiting') return ended(db, id, 'stopped', '');
  // a job that was begun on paper ends on paper, even if the test printer no longer makes any
  return printerAdapter({ address: job.address, into_tray: true }).step(db, job);
}

/** The requirements of a finished run on a printer. @throws Refusal */
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

const noEdges = { left: 0, right: 0, top: 0, bottom: 0 };

export interface Sent {
  sent: boolean;
  /** What does not fit, unless it was sent in spite of it. */
  against: string[];
  /** That it waits, and for what. */
  waits: string | null;
}

/**
 * Sends a finished run, or a printer's test page, to a printer. A real one is asked first. What
 * does not fit is reported and not sent, unless it is to be sent anyway. One that does not answer
 * gets it when it does.
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
  if (!printer) throw new Refusal('This printer no longer exists. It may have been removed.', 404);
  const run = what === 'test page' ? undefined : await finished(db, what.run);
  const adapter = printerAdapter(printer);
  const needs: ToPrint | undefined = !adapter.steps
    ? undefined
    : run
      ? await needsOf(db, run.id)
      : { page: testPageSize(printer.facts), free: noEdges, dpi: [] };
  const before = needs && (await adapter.before(db, printer, needs, !run));
  if (before && before.against.length > 0 && !anyway)
    return { sent: false, against: before.against, waits: null };
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
        `${run!.name} is already being sent to ${printer.name}. See the Post room.`,
      );
    if (needs) await askForPrint(tx, made.id);
  });
  log.info({ printer: printerId, run: run?.id }, 'sent to a printer');
  return { sent: true, against: [], waits: before?.waits ?? null };
}

async function finished(db: Database, id: number) {
  const run = await db
    .selectFrom('runs')
    .select(['id', 'name', 'sheets', 'state'])
    .where('id', '=', id)
    .executeTakeFirst();
  if (run?.state !== 'done' || run.sheets === 0)
    throw new Refusal(
      'Only a finished PDF for print can be sent to a printer. Wait until the run is finished, or make a PDF for print.',
    );
  return run;
}

/** Calls a print job off; what came out, came out. */
export async function stopPrint(db: Database, id: number): Promise<void> {
  const stopped = await db
    .updateTable('print_jobs')
    .set({ stopped_at: clock.date() })
    .where('id', '=', id)
    .where('stopped_at', 'is', null)
    .returning('state')
    .executeTakeFirst();
  if (stopped?.state) await askForPrint(db, id);
}

/** Marks a print job as not to be continued. */
export async function giveUpPrint(db: Database, id: number, why: string): Promise<void> {
  await ended(db, id, 'failed', `It could not be printed: ${why}.`);
}
