import { sql } from 'kysely';
import { rowsKey } from '../../core/documents';
import type { Piece } from '../../core/piece/piece';
import type { Values } from '../../core/records/columns';
import { maskedValues } from '../access';
import { type Database } from '../platform';
import { rowsFor } from './finding';

/** Puts the rows of other lists that belong to each record of a run beside its values, as they are now. */
export async function freezeRows(tx: Database, run: number, piece: Piece): Promise<void> {
  if (piece.ground?.kind !== 'document') return;
  for (const block of piece.ground.blocks)
    await sql`
      with belonging as (
        select trim(values->>${block.by}) as value, json_agg(values order by position)::text as rows
        from records where list_id = ${block.list} and trim(values->>${block.by}) <> '' group by 1)
      update run_items i set values = (i.values::jsonb || jsonb_build_object(${rowsKey(block)}::text,
        coalesce((select b.rows from belonging b where b.value = trim(i.values->>${block.is})), '[]')))::json
      where i.run_id = ${run}`.execute(tx);
}

/** The rows of other lists that belong to a record, block by block, for the screen. */
export async function rowsOfRecord(
  db: Database,
  jobId: number,
  record: number,
): Promise<Record<string, Values[]>> {
  const job = await db
    .selectFrom('jobs')
    .select(['document', 'list_id'])
    .where('id', '=', jobId)
    .executeTakeFirstOrThrow();
  const { ground } = job.document.piece;
  if (ground?.kind !== 'document' || ground.blocks.length === 0) return {};
  const { values } = await db
    .selectFrom('records')
    .select('values')
    .where('id', '=', record)
    .where('list_id', '=', job.list_id)
    .executeTakeFirstOrThrow();
  const rows: Record<string, Values[]> = {};
  for (const block of ground.blocks) {
    const list = await db
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', block.list)
      .executeTakeFirst();
    rows[block.id] = list
      ? (await rowsFor(db, block.list, block.by, values[block.is] ?? '')).map((row) =>
          maskedValues(list.columns, 0, row),
        )
      : [];
  }
  return rows;
}
