import type { FrozenRun } from '../../core/job/document';
import { isSecret, type Column, type Values } from '../../core/records/columns';
import type { Database } from '../platform';

interface Item {
  seq: number;
  record: number;
  name: string | null;
  values: Values;
  parts: { name: string; bytes: Buffer }[];
}

/** The items of a run in order with their files, a batch at a time. */
export async function* itemsOf(db: Database, runId: number): AsyncGenerator<Item> {
  const batch = 100;
  for (let from = 0; ; from += batch) {
    const range = { from, to: from + batch };
    const items = await db
      .selectFrom('run_items')
      .select(['seq', 'record_id as record', 'name', 'values'])
      .where('run_id', '=', runId)
      .where('seq', '>=', range.from)
      .where('seq', '<', range.to)
      .orderBy('seq')
      .execute();
    if (items.length === 0) return;
    const parts = await db
      .selectFrom('run_parts')
      .select(['seq', 'name', 'bytes'])
      .where('run_id', '=', runId)
      .where('seq', '>=', range.from)
      .where('seq', '<', range.to)
      .orderBy('seq')
      .orderBy('part')
      .execute();
    for (const item of items) yield { ...item, parts: parts.filter((p) => p.seq === item.seq) };
  }
}

/** The columns of a download: those that are shown, without secrets unless they were asked for. */
export const taken = ({ columns, output }: FrozenRun): Column[] =>
  columns.filter((c) => !c.hidden && (output?.secrets || !isSecret(c, columns)));
