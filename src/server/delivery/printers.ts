import { sql } from 'kysely';
import type { z } from 'zod';
import type { printerChangeSchema, printerSchema, PrinterView, PrintJobView } from '../../contract';
import { paperFaults } from '../../core/readback/paper-faults';
import { onTheWay, type PrinterFacts } from '../../core/run/printer';
import { finestRead } from '../../core/run/test-page';
import { Unreached, type Database, Refusal } from '../platform';
import { PrinterRefused } from './ipp';
import { askPrinter } from './network-printer';
import { byTheClock } from './stand-in-clock';

const latestJobs = (db: Database) =>
  db.selectFrom('print_jobs').selectAll().orderBy('id', 'desc').limit(60).execute();
type Job = Awaited<ReturnType<typeof latestJobs>>[number];

function stateOf(job: Job): Pick<PrintJobView, 'state' | 'printed' | 'reason'> {
  // of the reported job, the last report
  if (job.state)
    return {
      state: job.state,
      printed: Math.min(job.printed, job.sheets),
      reason: job.reason,
    };
  return { ...byTheClock(job), reason: '' };
}

/** @param keeps whether an administrator asks, who may see where printers are */
export async function listPrinters(db: Database, keeps: boolean): Promise<PrinterView[]> {
  const printers = await db.selectFrom('printers').selectAll().orderBy('id').execute();
  const jobs = await latestJobs(db);
  return printers.map((p) => ({
    id: p.id,
    name: p.name,
    dpi: p.dpi,
    offsetX: p.offset_x,
    offsetY: p.offset_y,
    finest: p.finest_dots,
    real: p.address !== null,
    address: keeps ? p.address : null,
    facts: p.facts,
    asked: p.asked_at?.toISOString() ?? null,
    trouble: p.trouble,
    faults: paperFaults.map(({ id }) => id).filter((id) => p.faults.includes(id)),
    intoTray: p.into_tray,
    jobs: jobs
      .filter((j) => j.printer_id === p.id)
      .map((j) => ({
        id: j.id,
        name: j.name,
        sheets: j.sheets,
        sent: j.sent_at.toISOString(),
        ...stateOf(j),
      })),
  }));
}

/** Adds a printer. @throws Refusal if there is one of that name */
export async function addPrinter(
  db: Database,
  wanted: z.output<typeof printerSchema>,
): Promise<void> {
  const id = await db.transaction().execute(async (tx) => {
    await checkPrinter(tx, wanted);
    return (
      await tx
        .insertInto('printers')
        .values(rowOf(wanted))
        .returning('id')
        .executeTakeFirstOrThrow()
    ).id;
  });
  if (wanted.address !== null) await firstAsked(db, id, wanted.address);
}

/**
 * Changes the description of a printer; the rest stays, also if somebody else changes it at the
 * same time.
 * @throws Refusal
 */
export async function changePrinter(
  db: Database,
  id: number,
  change: z.output<typeof printerChangeSchema>,
): Promise<void> {
  const address = await db.transaction().execute(async (tx) => {
    const before = await tx
      .selectFrom('printers')
      .selectAll()
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirst();
    if (!before) throw new Refusal('This printer no longer exists. It may have been removed.', 404);
    const next = {
      name: before.name,
      address: before.address,
      faults: paperFaults.map((fault) => fault.id).filter((fault) => before.faults.includes(fault)),
      intoTray: before.into_tray,
      ...change,
    };
    await checkPrinter(tx, next, id);
    const elsewhere = before.address !== next.address;
    if (elsewhere && (await isSentTo(tx, id)))
      throw new Refusal('Something is being sent to this printer. Stop that first.');
    const set = {
      ...rowOf(change),
      ...(elsewhere ? { facts: null, asked_at: null, trouble: null } : {}),
    };
    if (Object.values(set).some((value) => value !== undefined))
      await tx.updateTable('printers').set(set).where('id', '=', id).execute();
    return elsewhere ? next.address : null;
  });
  if (address !== null) await firstAsked(db, id, address);
}

/** The description of a printer, as stored; undefined if there is none. */
const rowOf = <P extends z.output<typeof printerChangeSchema>>(said: P) => ({
  name: said.name as P['name'],
  dpi: said.dpi as P['dpi'],
  offset_x: said.offsetX as P['offsetX'],
  offset_y: said.offsetY as P['offsetY'],
  finest_dots: said.finest as P['finest'],
  address: said.address as P['address'],
  faults: said.faults as P['faults'],
  into_tray: said.intoTray as P['intoTray'],
});

async function checkPrinter(
  db: Database,
  wanted: Pick<z.output<typeof printerSchema>, 'name' | 'address' | 'faults' | 'intoTray'>,
  id?: number,
): Promise<void> {
  // two people who add one at the same moment wait for one another
  await sql`select pg_advisory_xact_lock(7431)`.execute(db);
  const same = await db
    .selectFrom('printers')
    .select('id')
    .where('name', '=', wanted.name)
    .executeTakeFirst();
  if (same && same.id !== id)
    throw new Refusal(`A printer is already called ${wanted.name}. Choose another name.`);
  if (wanted.address !== null && (wanted.intoTray || wanted.faults.length > 0))
    throw new Refusal(
      'Only a test printer prints into the In-tray, with faults. Choose a test printer.',
    );
}

/** How long a person waits for a printer that was just added, in ms. */
const firstWait = 4000;

/**
 * A printer that was just named is asked at once, and its own resolution is taken; one that is off
 * is asked when something is sent.
 */
async function firstAsked(db: Database, id: number, address: string): Promise<void> {
  const dpi = (await asked(db, id, address))?.dpi[0];
  if (dpi !== undefined && dpi >= 72 && dpi <= 2400)
    await db.updateTable('printers').set({ dpi }).where('id', '=', id).execute();
}

/** The printer's report; if it does not answer, the reason is stored with it. */
async function asked(db: Database, id: number, address: string): Promise<PrinterFacts | undefined> {
  try {
    return (await askPrinter(db, id, address, firstWait)).facts;
  } catch (error) {
    if (!(error instanceof Unreached) && !(error instanceof PrinterRefused)) throw error;
    return undefined;
  }
}

/** Asks a printer again for its description; a problem is stored with it. @throws Refusal */
export async function askPrinterAgain(db: Database, id: number): Promise<void> {
  const printer = await db
    .selectFrom('printers')
    .select('address')
    .where('id', '=', id)
    .executeTakeFirst();
  if (!printer?.address)
    throw new Refusal(
      'This printer no longer exists, or it is a test printer. Choose another.',
      404,
    );
  await asked(db, id, printer.address);
}

/**
 * Stores how fine a printer prints, by a picture of its test page.
 * @returns dots of its finest module
 * @throws Refusal if too little of it reads
 */
export async function readTestPage(
  db: Database,
  id: number,
  texts: readonly string[],
): Promise<number> {
  const printer = await db
    .selectFrom('printers')
    .select('name')
    .where('id', '=', id)
    .executeTakeFirst();
  if (!printer) throw new Refusal('This printer no longer exists. It may have been removed.', 404);
  const finest = finestRead(printer.name, texts);
  if (finest === null)
    throw new Refusal(
      `The coarsest code of the test page of ${printer.name} does not read on this picture. Take the photo closer and straight, or print the page again.`,
    );
  await db.updateTable('printers').set({ finest_dots: finest }).where('id', '=', id).execute();
  return finest;
}

/**
 * Removes a printer, with what it was sent. @throws Refusal while something is being sent to it
 */
export async function removePrinter(db: Database, id: number): Promise<void> {
  await db.transaction().execute(async (tx) => {
    // documents that are sent to it in the meantime wait for this
    await tx.selectFrom('printers').select('id').where('id', '=', id).forUpdate().execute();
    if (await isSentTo(tx, id))
      throw new Refusal('Something is being sent to this printer. Stop that first.');
    await tx.deleteFrom('printers').where('id', '=', id).execute();
  });
}

/** Whether something is being sent to a printer. */
const isSentTo = async (db: Database, id: number): Promise<boolean> =>
  (await db
    .selectFrom('print_jobs')
    .select('id')
    .where('printer_id', '=', id)
    .where('state', 'in', onTheWay)
    .executeTakeFirst()) !== undefined;
