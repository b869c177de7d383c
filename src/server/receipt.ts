import type { FrozenRun } from '../core/job/document';
import { maskPayload } from '../core/payload/secrets';
import { stringify as csvLine } from 'csv-stringify/sync';
import type { Database } from './db';

export interface ReceiptLine {
  piece: number;
  record: number;
  title: string;
  key: string;
  stamp: string;
  payload: string;
  page: number;
  place: number;
  result: 'read' | 'differs' | 'unread';
  readsAs: string;
}

export const resultWords = { read: 'read, the same', differs: 'reads differently', unread: 'does not read' } as const;

/** The account of a run, code by code in the order of the pieces. Secrets are masked unless asked for. */
export async function* receiptLines(db: Database, runId: number, frozen: FrozenRun, secrets = false): AsyncGenerator<ReceiptLine> {
  const stamps = new Map(frozen.stamps.map((stamp) => [stamp.id, stamp]));
  const batch = 1000;
  // two reads by the key of each table: a join over tables that were filled a moment ago, before their statistics, can take minutes
  for (let from = 0; ; from += batch) {
    const items = await db
      .selectFrom('run_items')
      .select(['seq', 'values'])
      .where('run_id', '=', runId)
      .where('seq', '>=', from)
      .where('seq', '<', from + batch)
      .execute();
    if (items.length === 0) return;
    const values = new Map(items.map((item) => [item.seq, item.values]));
    const rows = await db
      .selectFrom('receipts')
      .selectAll()
      .where('run_id', '=', runId)
      .where('seq', '>=', from)
      .where('seq', '<', from + batch)
      .orderBy('seq')
      .orderBy('stamp')
      .execute();
    for (const row of rows) {
      const stamp = stamps.get(row.stamp);
      const shown = (text: string) => (secrets || !stamp ? text : maskPayload(text, stamp, values.get(row.seq) ?? {}, frozen.columns));
      yield {
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
      };
    }
  }
}

const headings = ['Piece', 'Record', 'Key', 'Stamp', 'Payload', 'Page', 'Position', 'Read-back', 'Reads as'];

/** The receipt as CSV with a byte order mark, so that spreadsheet programs take it for UTF-8. */
export async function* receiptCsv(db: Database, runId: number, frozen: FrozenRun): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  yield encoder.encode(csvLine([headings], { bom: true }));
  let lines: (string | number)[][] = [];
  for await (const l of receiptLines(db, runId, frozen)) {
    lines.push([l.piece, l.title, l.key, l.stamp, l.payload, l.page, l.place, resultWords[l.result], l.readsAs]);
    if (lines.length < 500) continue;
    yield encoder.encode(csvLine(lines));
    lines = [];
  }
  if (lines.length > 0) yield encoder.encode(csvLine(lines));
}
