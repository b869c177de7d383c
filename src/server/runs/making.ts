import { assembleRunCard } from './cards';
import {
  chunksOf,
  finishedPages,
  movedCode,
  safeFileName,
  SheetBuilder,
  type Chunk,
} from '../../core/run/plan';
import { sql } from 'kysely';
import { pageContent, type GlyphUse } from '../../core/artwork/pdf';

import { type FrozenRun, readRun } from '../../core/job/document';
import type { FontBook } from '../../core/artwork/fonts';
import { makePiece, type PictureOf, type PlacedCode } from '../../core/piece/piece';
import { sidesOf } from '../../core/piece/model';
import { stockOf } from '../../core/piece/stock';
import { readBack } from '../../core/readback/readback';
import { openKeyColumn, titleColumn, type Values } from '../../core/records/columns';

import {
  clock,
  type Database,
  deflate,
  enqueue,
  fontsOf,
  log,
  provideReader,
  writeFile,
} from '../platform';
import { picturesFor } from '../lists';
import { type MadeRecord, makerOf, recordMaker } from '../outputs';
import { outputOf, usualOutput } from '../../core/run/outputs';
import { csvOfReceipt } from './receipt';
import { queueMails, writeLetter } from '../delivery';
import { mailsOfRun } from './mails-of-run';
import { markLinksPrinted } from '../links';

const running = ['waiting', 'running'] as const;

interface ReceiptRow {
  seq: number;
  stamp: string;
  nth?: number;
  record: number;
  title: string;
  key: string;
  payload: string;
  page: number;
  place: number;
  result: 'read' | 'differs' | 'unread';
  read: string | null;
}
interface RunItem {
  seq: number;
  record_id: number;
  name: string | null;
  values: Values;
  members: { record: number }[] | null;
}
/** The result of a chunk. */
interface MadeChunk {
  receipt: ReceiptRow[];
  glyphs: GlyphUse;
  pages: { page: number; content: Buffer }[];
  parts: (MadeRecord['parts'][number] & { seq: number; part: number })[];
}

/**
 * Makes the pieces of one chunk, reads every code back, and stores the result and the receipt in
 * one transaction. Doing it again gives the same and doubles nothing.
 */
export async function runChunk(db: Database, runId: number, number: number): Promise<void> {
  const run = await db.selectFrom('runs').selectAll().where('id', '=', runId).executeTakeFirst();
  if (!run || !running.some((state) => state === run.state)) return;
  await db
    .updateTable('runs')
    .set({ state: 'running', started_at: clock.date() })
    .where('id', '=', runId)
    .where('state', '=', 'waiting')
    .execute();
  const frozen = readRun(run.frozen);
  const chunk = chunksOf(frozen, run.pieces)[number];
  // the run was stopped before; what was made is kept without this part
  if (!chunk) return;
  const items = await db
    .selectFrom('run_items')
    .select(['seq', 'record_id', 'values', 'name', 'members'])
    .where('run_id', '=', runId)
    .where('seq', '>=', chunk.from)
    .where('seq', '<', chunk.to)
    .orderBy('seq')
    .execute();
  provideReader();
  const stopped = stopWatch(db, runId);
  const records = items.map((item) => item.values);
  const fonts = fontsOf(frozen.piece, records);
  const pictures = await picturesFor(db, runId, frozen.piece, records);
  const made = outputOf(frozen.output?.kind ?? usualOutput).sheets
    ? await makeSheets(frozen, chunk, items, fonts, pictures, stopped)
    : await makeFiles(db, frozen, items, fonts, pictures, stopped);
  if (made) await keepChunk(db, runId, number, items.length, made);
}

/** Whether a run was stopped; the database is asked twice a second while its pieces are made. */
function stopWatch(db: Database, runId: number): () => Promise<boolean> {
  let asked = performance.now();
  return async () => {
    if (performance.now() - asked < 500) return false;
    asked = performance.now();
    const run = await db
      .selectFrom('runs')
      .select('state')
      .where('id', '=', runId)
      .executeTakeFirst();
    return run?.state !== 'running';
  };
}

async function makeSheets(
  frozen: FrozenRun,
  chunk: Chunk,
  items: readonly RunItem[],
  fonts: FontBook,
  pictures: PictureOf,
  stopped: () => Promise<boolean>,
): Promise<MadeChunk | undefined> {
  const stock = stockOf(frozen.piece);
  const sides = sidesOf(frozen.piece);
  const sheets = new SheetBuilder(
    stock,
    frozen.options.start,
    frozen.options.order,
    chunk,
    sides.length,
  );
  const placed: { item: RunItem; code: PlacedCode; page: number; place: number }[] = [];
  for (const item of items) {
    if (await stopped()) return undefined;
    for (const [number, side] of sides.entries()) {
      const made = makePiece(frozen.piece, stock, frozen.stamps, item.values, fonts, {
        side,
        pictures,
      });
      const { x, y, page, place } = sheets.add(item.seq, made.items, number);
      for (const code of made.codes)
        placed.push({ item, code: movedCode(code, x, y), page, place });
    }
  }
  const finished = finishedPages(sheets.pages, stock, {
    marks: frozen.options.marks,
    offset: frozen.offset,
  });
  const firstPage = chunk.firstPage * sides.length;
  const receipt: ReceiptRow[] = [];
  // only now, when the neighbours and the marks lie on the sheet as well
  for (const { item, code, page, place } of placed) {
    if (await stopped()) return undefined;
    const back = await readBack(
      finished.pages[page - firstPage]!.items,
      movedCode(code, finished.shift.x, finished.shift.y),
      fonts,
    );
    receipt.push({
      seq: item.seq,
      stamp: code.stamp,
      record: item.record_id,
      ...titles(frozen, item.values),
      payload: String(code.symbol.payload),
      page: page + 1,
      place: place + 1,
      result: back.result,
      read: back.result === 'unread' ? null : back.text,
    });
  }
  const glyphs: GlyphUse = new Map();
  const pages = finished.pages.map((drawing, i) => ({
    page: firstPage + i,
    content: deflate(pageContent(drawing, fonts, glyphs)),
  }));
  return { receipt: onePerStamp(receipt), glyphs, pages, parts: [] };
}

/** A stamp that is on a piece more than once has one line: the worst of its readings. */
function onePerStamp(rows: readonly ReceiptRow[]): ReceiptRow[] {
  const worst = new Map<string, ReceiptRow>();
  for (const row of rows) {
    const key = `${row.seq} ${row.stamp} ${row.nth ?? 0}`;
    const known = worst.get(key);
    if (!known || (known.result === 'read' && row.result !== 'read')) worst.set(key, row);
  }
  return [...worst.values()];
}

async function makeFiles(
  db: Database,
  frozen: FrozenRun,
  items: readonly RunItem[],
  fonts: FontBook,
  pictures: PictureOf,
  stopped: () => Promise<boolean>,
): Promise<MadeChunk | undefined> {
  const maker = await recordMaker(db, frozen, frozen.output!.kind);
  const records: MadeRecord[] = [];
  for (const item of items) {
    if (await stopped()) return undefined;
    records.push(
      await maker.one({ ...item, name: item.name ?? `record-${item.seq + 1}`, fonts, pictures }),
    );
  }
  const made: MadeChunk = { receipt: [], glyphs: new Map(), pages: [], parts: [] };
  for (const [i, { parts, codes }] of ((await maker.together?.(records)) ?? records).entries()) {
    const item = items[i]!;
    parts.forEach((part, number) => made.parts.push({ ...part, seq: item.seq, part: number }));
    for (const { inRow, ...code } of codes) {
      const own = inRow?.own;
      made.receipt.push({
        seq: item.seq,
        record: (own && item.members?.[own.row]?.record) ?? item.record_id,
        ...titles(frozen, own?.values ?? item.values),
        ...code,
        nth: inRow?.nth,
        page: item.seq + 1,
        place: inRow?.nth ?? 1,
      });
    }
  }
  made.receipt = onePerStamp(made.receipt);
  return made;
}

async function keepChunk(
  db: Database,
  runId: number,
  number: number,
  items: number,
  made: MadeChunk,
): Promise<void> {
  const glyphs = JSON.stringify([...made.glyphs].map(([font, map]) => [font, [...map]]));
  await db.transaction().execute(async (tx) => {
    // a run that was stopped in the meantime keeps the count it had then
    const going = await tx
      .selectFrom('runs')
      .select('state')
      .where('id', '=', runId)
      .forUpdate()
      .executeTakeFirst();
    if (going?.state !== 'running') return;
    const fresh = await tx
      .updateTable('run_chunks')
      .set({ done: true, glyphs })
      .where('run_id', '=', runId)
      .where('number', '=', number)
      .where('done', '=', false)
      .returning('number')
      .executeTakeFirst();
    if (!fresh) return;
    if (made.pages.length > 0)
      await tx
        .insertInto('run_pages')
        .values(made.pages.map((page) => ({ run_id: runId, ...page })))
        .execute();
    for (let from = 0; from < made.parts.length; from += 50)
      await tx
        .insertInto('run_parts')
        .values(
          made.parts
            .slice(from, from + 50)
            .map((part) => ({ run_id: runId, ...part, bytes: Buffer.from(part.bytes) })),
        )
        .execute();
    await insertReceipt(tx, runId, made.receipt);
    const failed = made.receipt.filter((row) => row.result !== 'read').length;
    const counts = await tx
      .updateTable('runs')
      .set((e) => ({
        pieces_made: e('pieces_made', '+', items),
        codes: e('codes', '+', made.receipt.length),
        codes_read: e('codes_read', '+', made.receipt.length - failed),
        codes_failed: e('codes_failed', '+', failed),
      }))
      .where('id', '=', runId)
      .returning(['pieces', 'pieces_made'])
      .executeTakeFirstOrThrow();
    if (counts.pieces_made === counts.pieces)
      await enqueue(tx, assembleRunCard, { run: runId }, { key: `assemble-${runId}` });
  });
}

/**
 * Ends a run that cannot be finished, with the reason.
 * @param final another start would fail the same way
 */
export async function endRun(db: Database, id: number, why: string, final = false): Promise<void> {
  await db
    .updateTable('runs')
    .set({
      state: 'failed',
      finished_at: clock.date(),
      error: final
        ? `${why}.`
        : `A part of the run could not be made: ${why}. Start the run again.`,
    })
    .where('id', '=', id)
    .where('state', 'in', running)
    .execute();
}

function titles(frozen: FrozenRun, values: Values): { title: string; key: string } {
  const key = openKeyColumn(frozen.columns);
  const name = titleColumn(frozen.columns);
  return { title: values[name?.id ?? ''] ?? '', key: key ? (values[key.id] ?? '') : '' };
}

async function insertReceipt(
  db: Database,
  runId: number,
  rows: readonly ReceiptRow[],
): Promise<void> {
  const column = <K extends keyof ReceiptRow>(key: K) => rows.map((row) => row[key]);
  await sql`
    insert into receipts (run_id, seq, stamp, nth, record_id, title, key, payload, page, place,
      result, read_text)
    select ${runId}::int, *
      from unnest(${column('seq')}::int[], ${column('stamp')}::text[],
      ${rows.map((row) => row.nth ?? 0)}::int[], ${column('record')}::bigint[],
      ${column('title')}::text[],
      ${column('key')}::text[], ${column('payload')}::text[], ${column('page')}::int[],
        ${column('place')}::int[], ${column('result')}::text[],
        ${column('read')}::text[])`.execute(db);
}

/**
 * Joins the results of the chunks into the run's files, writes the receipt, and marks the records
 * of the job.
 */
export async function assembleRun(db: Database, runId: number): Promise<void> {
  const run = await db.selectFrom('runs').selectAll().where('id', '=', runId).executeTakeFirst();
  if (!run || run.state !== 'running') return;
  const frozen = readRun(run.frozen);
  const output = outputOf(frozen.output?.kind ?? usualOutput);
  const title = frozen.title ?? run.name;
  const base = `${safeFileName(run.name)}-${run.id}`;
  await db.transaction().execute(async (tx) => {
    // one at a time, and none of a finished run: what two workers both took is made once
    const going = await tx
      .selectFrom('runs')
      .select('state')
      .where('id', '=', runId)
      .forUpdate()
      .executeTakeFirst();
    if (going?.state !== 'running') return;
    await tx.deleteFrom('files').where('run_id', '=', runId).execute();
    const made = await makerOf(output.id).assemble({ db: tx, runId, frozen, title });
    await writeFile(tx, runId, base + made.ending, made.mime, made.bytes);
    if (!output.noCodes) {
      const receipt = csvOfReceipt(tx, runId, frozen);
      await writeFile(tx, runId, `${base}-receipt.csv`, 'text/csv; charset=utf-8', receipt);
    }
    if (run.kind === 'job' && output.piece) await markPrinted(tx, run.job_id, runId);
    await markLinksPrinted(tx, runId);
    await tx
      .updateTable('runs')
      .set({ state: 'done', finished_at: clock.date() })
      .where('id', '=', runId)
      .where('state', '=', 'running')
      .execute();
    if (output.delivers === 'mail') await queueRunMails(tx, run.job_id, runId, frozen);
    // what was made is in the files now
    await tx.deleteFrom('run_pages').where('run_id', '=', runId).execute();
    await tx.deleteFrom('run_parts').where('run_id', '=', runId).execute();
    await writeLetter(tx, runId);
  });
  log.info({ run: runId, pieces: run.pieces, kind: output.id }, 'run finished');
}

async function queueRunMails(
  tx: Database,
  job: number,
  runId: number,
  frozen: FrozenRun,
): Promise<void> {
  for await (const mails of mailsOfRun(tx, job, runId, frozen)) await queueMails(tx, runId, mails);
}

async function markPrinted(tx: Database, jobId: number, runId: number): Promise<void> {
  // tables filled a moment ago have no statistics yet, and row by row would take the square of the
  // pieces
  await sql`set local enable_nestloop = off`.execute(tx);
  await sql`
    update job_rows j
      set run_id = ${runId}, run_page = r.page, run_place = r.place, run_mark = r.mark,
      printed = r.content
    from (select m.record_id, min(c.page) as page, (array_agg(c.place order by c.seq))[1] as place,
      min(m.content) as content,
            case when bool_and(c.good) then 'ready' else 'failed' end as mark
          from (select seq, min(page) as page, min(place) as place,
            bool_and(result = 'read') as good
                from receipts where run_id = ${runId} group by seq) c
          join run_items i on i.run_id = ${runId} and i.seq = c.seq
          cross join lateral (
            select i.record_id, i.content where i.members is null
            union all select (x->>'record')::bigint, x->>'content'
              from jsonb_array_elements(i.members) x) m
          group by m.record_id) r
    where j.job_id = ${jobId} and j.record_id = r.record_id`.execute(tx);
}
