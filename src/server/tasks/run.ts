import { deflateSync } from 'node:zlib';
import { assemblePdf, pageContent, picturesIn, type GlyphUse, type PictureUse } from '../../core/artwork/pdf';
import { artItems, symbolArt } from '../../core/artwork/symbol-art';
import { encode } from '../../core/symbology';
import { fontsForPiece, makePiece } from '../../core/piece/piece';
import { placesOn, stockById } from '../../core/piece/stock';
import { keyColumn, nameColumn, type Values } from '../../core/records/columns';
import { readBack } from '../../core/readback/readback';
import { cutChunks, safeFileName, SheetBuilder } from '../../core/run/plan';
import type { Database } from '../db';
import type { FrozenRun } from '../../core/job/document';
import { writeFile } from '../files';
import { fontBook } from '../fonts';
import { log } from '../log';
import { enqueue } from '../queue';
import { provideReader } from '../reader';
import { receiptCsv } from '../receipt';
import { sql } from 'kysely';

const running = ['waiting', 'running'] as const;

interface ReceiptRow {
  seq: number;
  stamp: string;
  record: number;
  title: string;
  key: string;
  payload: string;
  page: number;
  place: number;
  result: 'read' | 'differs' | 'unread';
  read: string | null;
}

/**
 * Makes the sheets of one chunk, reads every code on them back, and keeps pages and receipt in one transaction.
 * Doing it again gives the same and doubles nothing.
 */
export async function runChunk(db: Database, runId: number, number: number): Promise<void> {
  const run = await db.selectFrom('runs').selectAll().where('id', '=', runId).executeTakeFirst();
  if (!run || !running.some((state) => state === run.state)) return;
  await db
    .updateTable('runs')
    .set({ state: 'running', started_at: new Date() })
    .where('id', '=', runId)
    .where('state', '=', 'waiting')
    .execute();
  const frozen = run.frozen;
  const stock = stockById(frozen.piece.stock);
  const chunk = cutChunks(stock, run.pieces, frozen.options.start)[number];
  const items = await db
    .selectFrom('run_items')
    .select(['seq', 'record_id', 'values'])
    .where('run_id', '=', runId)
    .where('seq', '>=', chunk.from)
    .where('seq', '<', chunk.to)
    .orderBy('seq')
    .execute();
  provideReader();
  const fonts = fontBook(
    fontsForPiece(
      frozen.piece,
      items.map((item) => item.values),
    ),
  );
  const sheets = new SheetBuilder(stock, frozen.options.start, frozen.options.order, chunk);
  const receipt: ReceiptRow[] = [];
  for (const item of items) {
    const made = makePiece(frozen.piece, stock, frozen.stamps, item.values, fonts);
    const place = sheets.add(item.seq, made.items);
    const names = titles(frozen, item.values);
    for (const code of made.codes) {
      const back = await readBack(made.items, code, fonts);
      receipt.push({
        seq: item.seq,
        stamp: code.stamp,
        record: item.record_id,
        ...names,
        payload: String(code.symbol.payload),
        page: place.page + 1,
        place: place.place + 1,
        result: back.result,
        read: back.result === 'unread' ? null : back.text,
      });
    }
  }
  const used: GlyphUse = new Map();
  const pages = sheets.pages.map((page, i) => ({
    run_id: runId,
    page: chunk.firstPage + i,
    content: deflateSync(pageContent(page, fonts, used)),
  }));
  const glyphs = JSON.stringify([...used].map(([font, map]) => [font, [...map]]));
  await db.transaction().execute(async (tx) => {
    const fresh = await tx
      .updateTable('run_chunks')
      .set({ done: true, glyphs })
      .where('run_id', '=', runId)
      .where('number', '=', number)
      .where('done', '=', false)
      .returning('number')
      .executeTakeFirst();
    if (!fresh) return;
    await tx.insertInto('run_pages').values(pages).execute();
    await insertReceipt(tx, runId, receipt);
    const failed = receipt.filter((row) => row.result !== 'read').length;
    const counts = await tx
      .updateTable('runs')
      .set((e) => ({
        pieces_made: e('pieces_made', '+', items.length),
        codes: e('codes', '+', receipt.length),
        codes_read: e('codes_read', '+', receipt.length - failed),
        codes_failed: e('codes_failed', '+', failed),
      }))
      .where('id', '=', runId)
      .returning(['pieces', 'pieces_made'])
      .executeTakeFirstOrThrow();
    if (counts.pieces_made === counts.pieces) await enqueue(tx, 'run.assemble', { run: runId }, { key: `assemble-${runId}`, priority: -1 });
  });
}

function titles(frozen: FrozenRun, values: Values): { title: string; key: string } {
  const key = keyColumn(frozen.columns);
  const name = nameColumn(frozen.columns) ?? key ?? frozen.columns[0];
  return { title: values[name.id] ?? '', key: key ? (values[key.id] ?? '') : '' };
}

async function insertReceipt(db: Database, runId: number, rows: readonly ReceiptRow[]): Promise<void> {
  const column = <K extends keyof ReceiptRow>(key: K) => rows.map((row) => row[key]);
  await sql`
    insert into receipts (run_id, seq, stamp, record_id, title, key, payload, page, place, result, read_text)
    select ${runId}::int, * from unnest(${column('seq')}::int[], ${column('stamp')}::text[], ${column('record')}::bigint[], ${column('title')}::text[],
      ${column('key')}::text[], ${column('payload')}::text[], ${column('page')}::int[], ${column('place')}::int[], ${column('result')}::text[], ${column('read')}::text[])`.execute(
    db,
  );
}

/** Joins finished pages into the PDF, writes the receipt, and marks the records of the job. */
export async function assembleRun(db: Database, runId: number): Promise<void> {
  const run = await db.selectFrom('runs').selectAll().where('id', '=', runId).executeTakeFirst();
  if (!run || run.state !== 'running') return;
  const stock = stockById(run.frozen.piece.stock);
  const used = await glyphsOf(db, runId);
  const base = `${safeFileName(run.name)}-${run.id}`;
  const date = new Date(run.frozen.date);
  await db.transaction().execute(async (tx) => {
    await tx.deleteFrom('files').where('run_id', '=', runId).execute();
    const pdf = assemblePdf(
      storedPages(tx, runId),
      used,
      fontBook(used.keys()),
      { title: run.name, pageWidthMm: stock.page.width, pageHeightMm: stock.page.height, date },
      (bytes) => deflateSync(bytes),
      picturesOf(run.frozen),
    );
    await writeFile(tx, runId, `${base}.pdf`, 'application/pdf', pdf);
    await writeFile(tx, runId, `${base}-receipt.csv`, 'text/csv; charset=utf-8', receiptCsv(tx, runId, run.frozen));
    if (run.kind === 'job')
      await sql`
      update job_rows j set run_id = ${runId}, run_page = r.page, run_place = r.place, run_mark = r.mark,
        printed = (select content from run_items i where i.run_id = ${runId} and i.record_id = r.record_id limit 1)
      from (select record_id, min(page) as page, (array_agg(place order by seq))[1] as place,
              case when bool_and(result = 'read') then 'ready' else 'failed' end as mark
            from receipts where run_id = ${runId} group by record_id) r
      where j.job_id = ${run.job_id} and j.record_id = r.record_id`.execute(tx);
    await tx
      .updateTable('runs')
      .set({ state: 'done', finished_at: new Date() })
      .where('id', '=', runId)
      .where('state', '=', 'running')
      .execute();
    // the pages live on in the PDF
    await tx.deleteFrom('run_pages').where('run_id', '=', runId).execute();
  });
  log.info({ run: runId, pieces: run.pieces, perSheet: placesOn(stock) }, 'run finished');
}

/** The pictures in the looks of a run. They are the same in every code, so any code that a stamp can make tells them. */
function picturesOf({ stamps }: FrozenRun): PictureUse {
  const pictures: PictureUse = new Map();
  for (const { look } of stamps)
    if (look.logo || look.behind) picturesIn(artItems(symbolArt(encode('qr', 'any'), look), 0, 0, 1), pictures);
  return pictures;
}

async function glyphsOf(db: Database, runId: number): Promise<GlyphUse> {
  const chunks = await db.selectFrom('run_chunks').select('glyphs').where('run_id', '=', runId).orderBy('number').execute();
  const used: GlyphUse = new Map();
  for (const { glyphs } of chunks)
    for (const [font, pairs] of glyphs ?? []) {
      const map = used.get(font) ?? new Map<number, string>();
      used.set(font, map);
      for (const [id, text] of pairs) if (!map.has(id)) map.set(id, text);
    }
  return used;
}

async function* storedPages(db: Database, runId: number): AsyncGenerator<Uint8Array> {
  const batch = 32;
  for (let from = 0; ; from += batch) {
    const pages = await db
      .selectFrom('run_pages')
      .select('content')
      .where('run_id', '=', runId)
      .where('page', '>=', from)
      .where('page', '<', from + batch)
      .orderBy('page')
      .execute();
    for (const { content } of pages) yield content;
    if (pages.length < batch) return;
  }
}
