import { viewRun } from './run-views';
import { type FrozenRun, readRun } from '../../core/job/document';
import type { ReceiptLine, ReceiptPage } from '../../contract';
import { codesOf, type CodeOfDocument } from '../../core/documents/words';
import { documentGround } from '../../core/piece/model';
import { maskPayload } from '../../core/payload/secrets';
import { sql, type Selectable } from 'kysely';
import type { Values } from '../../core/records/columns';
import type { Database, Receipts } from '../platform';
import { csvLines } from '../platform';

const resultWords = {
  read: 'correct',
  differs: 'reads differently',
  unread: 'does not read',
} as const;

const batch = 1000;

/**
 * The receipt of a run, code by code in the order of the pieces. Secrets are masked unless
 * requested.
 */
export async function* receiptLines(
  db: Database,
  runId: number,
  frozen: FrozenRun,
  secrets = false,
): AsyncGenerator<ReceiptLine> {
  const pages = await pagesOnPaper(db, runId);
  // two reads by the key of each table: a join over tables that were filled a moment ago, before
  // their statistics, can take minutes
  for (let from = 0; ; from += batch) {
    const rows = await db
      .selectFrom('receipts')
      .selectAll()
      .where('run_id', '=', runId)
      .where('seq', '>=', from)
      .where('seq', '<', from + batch)
      .orderBy('seq')
      .orderBy('stamp')
      .orderBy('nth')
      .execute();
    const items = await valuesOf(db, runId, from, from + batch);
    if (items.size === 0) return;
    for (const row of rows) yield lineOf(row, items, frozen, secrets, pages);
  }
}

async function valuesOf(
  db: Database,
  runId: number,
  from: number,
  to: number,
): Promise<Map<number, Held>> {
  const items = await db
    .selectFrom('run_items')
    .select(['seq', 'values'])
    .where('run_id', '=', runId)
    .where('seq', '>=', from)
    .where('seq', '<', to)
    .execute();
  return new Map(items.map((item) => [item.seq, { values: item.values }]));
}

/** The values of a piece and, if requested, of a document's rows with codes. */
interface Held {
  values: Values;
  inRows?: Map<string, CodeOfDocument>;
}

/** The code in a row of a document that a line is about. */
function codeInRow(
  held: Held,
  frozen: FrozenRun,
  { stamp, nth }: Pick<Selectable<Receipts>, 'stamp' | 'nth'>,
): CodeOfDocument | undefined {
  const ground = documentGround(frozen.piece);
  if (!ground) return undefined;
  if (!held.inRows) {
    held.inRows = new Map();
    for (const code of codesOf(ground, frozen.stamps, held.values))
      if (code.inRow) held.inRows.set(`${code.place.stamp} ${code.inRow.nth}`, code);
  }
  return held.inRows.get(`${stamp} ${nth}`);
}

function lineOf(
  row: Selectable<Receipts>,
  pieces: ReadonlyMap<number, Held>,
  frozen: FrozenRun,
  secrets: boolean,
  pages: ReadonlySet<number>,
): ReceiptLine {
  const stamp = frozen.stamps.find((s) => s.id === row.stamp);
  const held = pieces.get(row.seq);
  const inRow = held && row.nth > 0 ? codeInRow(held, frozen, row) : undefined;
  const values = inRow?.values ?? held?.values ?? {};
  // rows of other lists contain no secrets
  const open = secrets || !stamp || inRow?.place.says !== undefined;
  const shown = (text: string) => (open ? text : maskPayload(text, stamp, values, frozen.columns));
  return {
    piece: row.seq + 1,
    record: row.record_id,
    title: row.title,
    key: row.key,
    stamp: stamp?.name ?? row.stamp,
    payload: shown(row.payload),
    page: row.page,
    place: row.place,
    result: row.result,
    readsAs: shown(row.read_text ?? ''),
    paper: row.paper_at !== null ? 'read' : pages.has(row.page) ? 'not-read' : null,
  };
}

/** Pages of which a code was read from the paper. */
async function pagesOnPaper(db: Database, runId: number): Promise<Set<number>> {
  const rows = await db
    .selectFrom('receipts')
    .select('page')
    .distinct()
    .where('run_id', '=', runId)
    .where('paper_at', 'is not', null)
    .execute();
  return new Set(rows.map((row) => row.page));
}

/** How each page of a run read back, in order. */
export async function receiptPages(db: Database, runId: number): Promise<ReceiptPage[]> {
  const pages = await sql<ReceiptPage>`
    select page, count(*)::int as codes, (count(*) filter (where result <> 'read'))::int as failed,
      count(paper_at)::int as paper
    from receipts where run_id = ${runId} group by page order by page`.execute(db);
  return pages.rows;
}

/** The lines of one page, or with `failed` all that did not read, the first thousand. */
export async function receiptPart(
  db: Database,
  runId: number,
  part: { page: number } | 'failed',
): Promise<ReceiptLine[]> {
  const { frozen } = await frozenRun(db, runId);
  const query = db.selectFrom('receipts').selectAll().where('run_id', '=', runId);
  const rows = await (
    part === 'failed' ? query.where('result', '<>', 'read') : query.where('page', '=', part.page)
  )
    .orderBy('seq')
    .orderBy('stamp')
    .orderBy('nth')
    .limit(1000)
    .execute();
  if (rows.length === 0) return [];
  const values = await valuesOf(db, runId, rows[0]!.seq, rows.at(-1)!.seq + 1);
  const pages = await pagesOnPaper(db, runId);
  return rows.map((row) => lineOf(row, values, frozen, false, pages));
}

const headings = [
  'Piece',
  'Record',
  'Key',
  'Stamp',
  'Payload',
  'Page',
  'Position',
  'Read-back',
  'Reads as',
  'On paper',
];

/** The receipt as CSV with a byte order mark, so that spreadsheet programs read UTF-8. */
export async function receiptCsv(db: Database, runId: number): Promise<AsyncGenerator<Uint8Array>> {
  return csvOfReceipt(db, runId, (await frozenRun(db, runId)).frozen);
}

/** The same for a run whose frozen document is loaded. */
export async function* csvOfReceipt(
  db: Database,
  runId: number,
  frozen: FrozenRun,
): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  yield encoder.encode(csvLines([headings], { bom: true }));
  let lines: (string | number)[][] = [];
  for await (const l of receiptLines(db, runId, frozen)) {
    lines.push([
      l.piece,
      l.title,
      l.key,
      l.stamp,
      l.payload,
      l.page,
      l.place,
      resultWords[l.result],
      l.readsAs,
      l.paper === null ? '' : l.paper === 'read' ? 'read' : 'does not read',
    ]);
    if (lines.length < 500) continue;
    yield encoder.encode(csvLines(lines));
    lines = [];
  }
  if (lines.length > 0) yield encoder.encode(csvLines(lines));
}

async function frozenRun(
  db: Database,
  runId: number,
): Promise<{ name: string; frozen: FrozenRun }> {
  const { name, frozen } = await db
    .selectFrom('runs')
    .select(['frozen', 'name'])
    .where('id', '=', runId)
    .executeTakeFirstOrThrow();
  return { name, frozen: readRun(frozen) };
}

/** The receipt as JSON, line by line, so that a long one is never whole in memory. */
export async function receiptJson(
  db: Database,
  runId: number,
): Promise<AsyncGenerator<Uint8Array>> {
  const { frozen, name } = await frozenRun(db, runId);
  const { pieces, sheets, codes, read, failed, leftOut, created, finished } = await viewRun(
    db,
    runId,
  );
  const receipt = {
    run: runId,
    name,
    created,
    finished,
    pieces,
    sheets,
    codes,
    read,
    failed,
    leftOut,
  };
  async function* parts() {
    yield Buffer.from(`${JSON.stringify(receipt, null, 1).slice(0, -2)},\n "lines": [`);
    let before = '\n  ';
    for await (const line of receiptLines(db, runId, frozen)) {
      yield Buffer.from(before + JSON.stringify(line));
      before = ',\n  ';
    }
    yield Buffer.from('\n ]\n}\n');
  }
  return parts();
}
