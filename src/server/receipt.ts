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
  const batch = 2000;
  for (let after = -1; ;) {
    const rows = await db
      .selectFrom('receipts')
      .innerJoin('run_items', (join) => join.onRef('run_items.run_id', '=', 'receipts.run_id').onRef('run_items.seq', '=', 'receipts.seq'))
      .selectAll('receipts')
      .select('run_items.values')
      .where('receipts.run_id', '=', runId)
      .where('receipts.seq', '>', after)
      .orderBy('receipts.seq')
      .orderBy('stamp')
      .limit(batch)
      .execute();
    // a piece with several codes must not be cut by the batch
    const last = rows.at(-1)?.seq;
    const whole = rows.length < batch ? rows : rows.filter((row) => row.seq !== last);
    for (const row of whole) {
      const stamp = stamps.get(row.stamp);
      const shown = (text: string) => (secrets || !stamp ? text : maskPayload(text, stamp, row.values, frozen.columns));
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
    if (rows.length < batch) return;
    after = whole.at(-1)!.seq;
  }
}

const headings = ['Piece', 'Record', 'Key', 'Stamp', 'Payload', 'Page', 'Position', 'Read-back', 'Reads as'];

/** The receipt as CSV with a byte order mark, so that spreadsheet programs take it for UTF-8. */
export async function* receiptCsv(db: Database, runId: number, frozen: FrozenRun): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  yield encoder.encode(csvLine([headings], { bom: true }));
  for await (const l of receiptLines(db, runId, frozen))
    yield encoder.encode(csvLine([[l.piece, l.title, l.key, l.stamp, l.payload, l.page, l.place, resultWords[l.result], l.readsAs]]));
}
