import { makeChunkCard } from './cards';
import type { whichRecords, quickSchema } from '../../contract';
import { type NewRun, newRunSchema } from '../../contract';
import { counted } from '../../core/base/words';
import { sql } from 'kysely';
import type { z } from 'zod';
import { groundOf, type Piece } from '../../core/piece/model';
import { firstPiece } from '../../core/piece/starters';
import type { GroundKind } from '../../core/piece/ground';
import { stockOf, stocks, sheetsFor } from '../../core/piece/stock';
import { isSecret, openKeyColumn, titleColumn, type Column } from '../../core/records/columns';
import { onGround } from '../../core/grounds';
import { FileNames, freeName } from '../../core/run/names';
import { attachableOn, outputOf, usualOutput, type Output } from '../../core/run/outputs';
import { needsOf } from '../../core/run/outputs/needs';
import { chunksOf, defaultRunOptions, mostPieces } from '../../core/run/plan';
import { clock, checkRoom, type Database, enqueue, RunError } from '../platform';
import { type FrozenRun, readJob, readRun, writeRun } from '../../core/job/document';
import { isFresh, whenFresh } from '../judging';
import { checkOwnRecords, freezePictures } from '../lists';
import { freezeRows } from '../documents';
import { orderOf, stampOf, wholeList } from '../jobs';
import { type Mail, mailOf } from '../../core/mail/mail';
import { forgetMails, viewMailServer } from '../delivery';
import { addressed, withoutRecords } from './addresses';
import {
  chosenItems,
  chosenPieces,
  firstOfGroups,
  gatherGroups,
  largestGroup,
  leftOut,
  onePerRecord,
} from './choosing';
import { groupedBy, mostTogether, ownRowsKeys, standsAlone } from './groups';

/** How long a new run waits for the records to be checked, in ms. */
const waitsForChecks = 10_000;

/**
 * Freezes a job and its chosen records as a run and puts its chunks in the queue, all or nothing.
 */
export async function startRun(
  db: Database,
  jobId: number,
  asked: NewRun,
  actor: string,
  quick?: Piece,
): Promise<number> {
  const wanted = newRunSchema.parse(asked);
  await checkRoom(db);
  await whenFresh(db, jobId, waitsForChecks);
  const shown =
    wanted.which === 'filtered'
      ? await orderOf(db, jobId, wanted.view ?? wholeList)
      : wanted.ticked;
  return db.transaction().execute((tx) => startRunIn(tx, jobId, wanted, actor, { shown, quick }));
}

/**
 * The same in the caller's transaction, so that the run exists exactly if the caller's work does.
 * The storage limit was checked before.
 */
export async function startRunIn(
  tx: Database,
  jobId: number,
  asked: NewRun,
  actor: string,
  {
    shown,
    quick,
    onlyReady = false,
  }: {
    shown?: readonly number[];
    quick?: Piece;
    /** Nobody watches, so what needs a look is not made. */
    onlyReady?: boolean;
  } = {},
): Promise<number> {
  const wanted = newRunSchema.parse(asked);
  // started one after the other, so that no two have one name
  await sql`select pg_advisory_xact_lock(hashtextextended(${`start run ${jobId}`}, 0))`.execute(tx);
  const earlier =
    wanted.which === 'failed' && wanted.from !== undefined
      ? await frozenOf(tx, wanted.from)
      : undefined;
  // what failed is made again as it was made, whatever the job makes at present
  const output = wanted.output ?? earlier?.output ?? { kind: usualOutput };
  const described = outputOf(output.kind);
  const printerId = wanted.printer ?? earlier?.printer;
  const job = await tx
    .selectFrom('jobs')
    .selectAll()
    .where('id', '=', jobId)
    .executeTakeFirstOrThrow();
  const list = await tx
    .selectFrom('lists')
    .selectAll()
    .where('id', '=', job.list_id)
    .executeTakeFirstOrThrow();
  if (wanted.which === 'ticked') await checkOwnRecords(tx, list.id, wanted.ticked);
  if (!isFresh(list, job))
    throw new RunError(
      'The records are still being checked. Start the run when the checks are done.',
    );
  const document = readJob(job.document);
  if (!quick && described.piece && onGround(document.piece).stampsOn(document.piece).length === 0)
    throw new RunError('There is no code on the piece. Add a stamp to it first.');
  const ground = quick ? 'stock' : groundOf(document.piece);
  if (described.grounds && !described.grounds.includes(ground))
    throw new RunError(
      `${described.name} cannot be made from ${onGround(document.piece).name}. Choose another output.`,
    );
  const mail = mailOf(document.mail, list.columns);
  const sender =
    described.delivers === 'mail'
      ? await senderOf(tx, mail, output, groundOf(document.piece))
      : undefined;
  const printer =
    printerId === undefined
      ? undefined
      : await tx
          .selectFrom('printers')
          .selectAll()
          .where('id', '=', printerId)
          .executeTakeFirstOrThrow();
  const own = quick
    ? defaultRunOptions
    : { ...document.options, ...(wanted.start ? { start: wanted.start } : {}) };
  const options = described.sheets ? own : onePerRecord(own);
  const frozen: FrozenRun = {
    piece: quick ?? document.piece,
    stamps: printer
      ? list.stamps.map((s) => ({ ...s, look: { ...s.look, dpi: printer.dpi } }))
      : list.stamps,
    options,
    columns: list.columns,
    jobVersion: job.version,
    listRevision: list.revision,
    date: clock.date().toISOString(),
    output,
    ...(sender ? { mail, sender } : {}),
    ...(printer
      ? { offset: { x: printer.offset_x, y: printer.offset_y }, printer: printer.id }
      : {}),
    ...(wanted.from ? { again: wanted.from } : {}),
  };
  const by = groupedBy(frozen.piece, described);
  const needs = quick
    ? needsOf(outputOf(usualOutput), quick, list.stamps, mail)
    : needsOf(described, document.piece, list.stamps, mail);
  const choice = { ...wanted, shown: shown ?? wanted.ticked, by, needs, onlyReady };
  const { wanted: many } = (await chosenPieces(jobId, choice, options).execute(tx)).rows[0]!;
  if (many > mostPieces)
    throw new RunError(
      `These are ${many.toLocaleString('en')} pieces; one run makes up to ${mostPieces.toLocaleString('en')}. Choose fewer copies, or run the records in parts.`,
    );
  const id = await insertRun(tx, {
    jobId,
    kind: quick ? 'quick' : 'job',
    name: wanted.name,
    frozen,
    actor,
  });
  const meant = chosenItems(jobId, choice, options);
  const { without } = sender
    ? await addressed(tx, jobId, list.columns, mail, output, meant)
    : { without: new Map<number, string>() };
  const all = withoutRecords(meant, without);
  const together = by === undefined ? 1 : await largestGroup(tx, all, by);
  const alone = together > 1 ? standsAlone(frozen.piece, by, job.list_id) : undefined;
  if (alone) throw new RunError(alone);
  if (together > mostTogether)
    throw new RunError(
      `One document holds up to ${mostTogether.toLocaleString('en')} records; these are ${together.toLocaleString('en')}. Run them in parts, or make one document for each value of another column.`,
    );
  const taken = await sql`insert into run_items (run_id, seq, record_id, values, content)
    select ${id}::int, seq, record_id, values, content
      from (${by === undefined ? all : firstOfGroups(all, by)}) chosen`.execute(tx);
  const pieces = Number(taken.numAffectedRows ?? 0);
  if (pieces === 0 && onlyReady) {
    const left = await leftOut(tx, jobId, list.columns, choice, sql`select null::bigint`, without);
    if (left.rows[0]) throw new RunError(`${left.rows[0].title}: ${left.rows[0].reason}.`);
  }
  if (pieces === 0)
    throw new RunError(
      without.size > 0
        ? 'There is no one to email: the address is missing or wrong, or they already had the email. Open “leave out” to see why.'
        : nothingWords[wanted.which],
    );
  await freezePictures(tx, id, job.list_id, frozen.piece);
  await freezeRows(tx, id, frozen.piece);
  if (by !== undefined) await gatherGroups(tx, id, all, by, ownRowsKeys(frozen.piece, job.list_id));
  const { most } = described;
  if (most && pieces > most.records)
    throw new RunError(
      `${most.words} holds up to ${most.records.toLocaleString('en')} records; these are ${pieces.toLocaleString('en')}. Run them in parts.`,
    );
  if (described.named) await nameItems(tx, id, list.columns, output, by);
  const missing = await leftOut(
    tx,
    jobId,
    list.columns,
    choice,
    by === undefined
      ? sql`select record_id from run_items where run_id = ${id}`
      : sql`select record_id from (${all}) c`,
    without,
  );
  await queueRun(tx, id, frozen, pieces, missing.rows);
  return id;
}

/** The sender of a run's emails. @throws RunError if they could not be sent */
async function senderOf(
  db: Database,
  mail: Mail,
  output: Output,
  ground: GroundKind,
): Promise<{ name: string; address: string }> {
  if (mail.attach !== undefined && !attachableOn(ground).some((o) => o.id === mail.attach))
    throw new RunError('The attachment cannot be made from this piece. Choose other attachments.');
  const server = await viewMailServer(db);
  if (!server) throw new RunError('Choose a mail server in Settings first.');
  if (mail.to === undefined && output.instead === undefined)
    throw new RunError('Choose the column with the email addresses first.');
  return { name: server.senderName, address: server.sender };
}

const frozenOf = async (db: Database, run: number): Promise<FrozenRun> =>
  readRun(
    (await db.selectFrom('runs').select('frozen').where('id', '=', run).executeTakeFirstOrThrow())
      .frozen,
  );

const nothingWords: Record<(typeof whichRecords)[number], string> = {
  ready: 'No record is ready, so there is nothing to make. Open Records to fix problems.',
  'with-code': 'No chosen record has a code, so there is nothing to make.',
  ticked: 'No chosen record has a code, so there is nothing to make.',
  filtered: 'No record shown has a code, so there is nothing to make.',
  new: 'Every record that is ready was already printed. Choose “all” to print again.',
  changed: 'Nothing that was printed has changed since.',
  failed: 'No code of that run failed, or its records were deleted.',
};

async function insertRun(
  tx: Database,
  {
    jobId,
    kind,
    name,
    frozen,
    actor,
  }: { jobId: number; kind: 'job' | 'quick'; name: string; frozen: FrozenRun; actor: string },
): Promise<number> {
  const names = await tx.selectFrom('runs').select('name').where('job_id', '=', jobId).execute();
  const own = freeName(
    name,
    names.map((n) => n.name),
  );
  const { id } = await tx
    .insertInto('runs')
    .values({
      job_id: jobId,
      kind,
      name: own,
      state: 'waiting',
      frozen: writeRun({ ...frozen, title: frozen.title ?? own }),
      pieces: 0,
      sheets: 0,
      left_out: '[]',
      created_by: actor,
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}

/** Gives every item the name of its file: from a column, safe on every system, and no two alike. */
async function nameItems(
  tx: Database,
  id: number,
  columns: readonly Column[],
  { nameFrom }: Output,
  /** The column by which records share a document. */
  by: string | undefined,
): Promise<void> {
  const wanted = columns.find((c) => c.id === nameFrom);
  if (wanted && isSecret(wanted, columns))
    throw new RunError(
      `${wanted.name} is secret, and file names are visible to all. Choose another column for the file names.`,
    );
  const shared = columns.find((c) => c.id === by && !isSecret(c, columns));
  // one document of all bears no one's name
  const ofAll = by === '' && !wanted;
  const column = ofAll
    ? undefined
    : (wanted ?? shared ?? openKeyColumn(columns) ?? titleColumn(columns));
  const names = new FileNames();
  const batch = 5000;
  for (let from = 0; ; from += batch) {
    const items = await tx
      .selectFrom('run_items')
      .select(['seq', sql<string>`coalesce(values->>${column?.id ?? ''}, '')`.as('value')])
      .where('run_id', '=', id)
      .where('seq', '>=', from)
      .where('seq', '<', from + batch)
      .orderBy('seq')
      .execute();
    if (items.length === 0) return;
    const given = items.map((item) =>
      names.take(item.value, ofAll ? 'all' : `record-${item.seq + 1}`),
    );
    await sql`update run_items i set name = n.name
      from unnest(${items.map((i) => i.seq)}::int[], ${given}::text[]) as n(seq, name)
      where i.run_id = ${id} and i.seq = n.seq`.execute(tx);
  }
}

/** Parts of runs after this one all have the same priority: a small integer in the queue. */
const mostPriority = 30_000;

async function queueRun(
  tx: Database,
  id: number,
  frozen: FrozenRun,
  pieces: number,
  leftOut: readonly { title: string; reason: string }[],
): Promise<void> {
  const chunks = chunksOf(frozen, pieces);
  const sheets =
    frozen.output?.kind && frozen.output.kind !== 'pdf'
      ? 0
      : sheetsFor(stockOf(frozen.piece), pieces, frozen.options.start);
  await tx
    .updateTable('runs')
    .set({ pieces, sheets, left_out: JSON.stringify(leftOut) })
    .where('id', '=', id)
    .execute();
  await tx
    .insertInto('run_chunks')
    .values(chunks.map((chunk) => ({ run_id: id, number: chunk.number })))
    .execute();
  for (const chunk of chunks)
    await enqueue(
      tx,
      makeChunkCard,
      { run: id, chunk: chunk.number },
      // runs take turns: the first part of a short one comes before the second of a long one
      { key: `run-${id}-${chunk.number}`, priority: Math.min(chunk.number, mostPriority) },
    );
}

/**
 * Makes a run again from what it was made from: the same records, stamps, piece and date, and so
 * the same bytes.
 */
export async function runAgain(db: Database, runId: number, actor: string): Promise<number> {
  await checkRoom(db);
  return db.transaction().execute(async (tx) => {
    const run = await tx
      .selectFrom('runs')
      .selectAll()
      .where('id', '=', runId)
      .executeTakeFirstOrThrow();
    const frozen = readRun(run.frozen);
    const id = await insertRun(tx, {
      jobId: run.job_id,
      kind: run.kind,
      name: run.name,
      frozen: { ...frozen, title: frozen.title ?? run.name },
      actor,
    });
    await sql`insert into run_items (run_id, seq, record_id, values, content, name, members)
      select ${id}::int, seq, record_id, values, content, name, members from run_items
      where run_id = ${runId}`.execute(tx);
    await sql`insert into run_pictures (run_id, name, picture) select ${id}::int, name, picture
      from run_pictures where run_id = ${runId}`.execute(tx);
    await queueRun(tx, id, frozen, run.pieces, run.left_out);
    return id;
  });
}

/**
 * A quick print: code and title of some records, straight from the list, without touching the job's
 * own piece.
 */
export async function quickPrint(
  db: Database,
  jobId: number,
  { stamp, records }: z.infer<typeof quickSchema>,
  actor: string,
): Promise<number> {
  const list = await stampOf(db, jobId, stamp);
  const name = `Codes with titles, ${counted(records.length, 'record')}`;
  return startRun(
    db,
    jobId,
    { name, which: 'ticked', ticked: records },
    actor,
    firstPiece(stocks[0]!, list.stamp, list.columns),
  );
}

/** Stops a run; chunks that are still in the queue find it cancelled and do nothing. */
export async function cancelRun(db: Database, id: number): Promise<void> {
  await db
    .updateTable('runs')
    .set({ state: 'cancelled', finished_at: clock.date() })
    .where('id', '=', id)
    .where('state', 'in', ['waiting', 'running'])
    .execute();
}

/** Deletes a run with its files and its receipt. What was printed stays marked as printed. */
export async function removeRun(db: Database, id: number): Promise<void> {
  await cancelRun(db, id);
  await forgetMails(db, id);
  await db.deleteFrom('runs').where('id', '=', id).execute();
}
