import { sql } from 'kysely';
import { rowsKey } from '../../core/documents';
import { readJob } from '../../core/job/document';
import { documentGround, type Piece } from '../../core/piece/model';
import type { Values } from '../../core/records/columns';
import { maskedValues } from '../access';
import { rowsByValue, valuesBeside } from '../judging';
import { type Database, RunError } from '../platform';
import { rowsFor } from './finding';

/**
 * Puts the rows of other lists that belong to each record of a run beside its values, as they are
 * now.
 */
export async function freezeRows(tx: Database, run: number, piece: Piece): Promise<void> {
  if (piece.ground?.kind === 'pdfs') return freezePdfs(tx, run, piece);
  for (const block of documentGround(piece)?.blocks ?? []) {
    const byValue = await rowsByValue(tx, block);
    const { rows: sum } = await sql<{ rows: number }>`
      select coalesce(sum(b.rows), 0)::int as rows from run_items i join (
        select value, count(*) as rows from (${byValue}) b group by 1) b
          on b.value = trim(i.values->>${block.is})
      where i.run_id = ${run}`.execute(tx);
    if (sum[0]!.rows > mostRowsOfRun)
      throw new RunError(
        `The documents would repeat ${sum[0]!.rows.toLocaleString('en')} rows of another list; one run holds up to ${mostRowsOfRun.toLocaleString('en')}. Choose fewer records, or check which column says whose row it is.`,
      );
    await sql`
      with belonging as (
        select value, json_agg(values order by position)::text as rows from (${byValue}) b
          group by 1)
      update run_items i set
        values = (i.values::jsonb || jsonb_build_object(${rowsKey(block)}::text,
        coalesce((select b.rows from belonging b where b.value = trim(i.values->>${block.is})),
          '[]')))::json
      where i.run_id = ${run}`.execute(tx);
  }
}

/** Rows of other lists are frozen with each record that they belong to. */
const mostRowsOfRun = 200_000;

/** Puts beside each record of a run which PDF is its own. */
async function freezePdfs(tx: Database, run: number, piece: Piece): Promise<void> {
  const batch = 1000;
  for (let from = 0; ; from += batch) {
    const items = await tx
      .selectFrom('run_items')
      .select(['seq', 'record_id as id', 'values'])
      .where('run_id', '=', run)
      .where('seq', '>=', from)
      .where('seq', '<', from + batch)
      .orderBy('seq')
      .execute();
    if (items.length === 0) return;
    const values = await valuesBeside(tx, piece, items);
    await sql`update run_items i set values = n.values::json
      from unnest(${items.map((i) => i.seq)}::int[],
        ${values.map((v) => JSON.stringify(v))}::text[]) as n(seq, values)
      where i.run_id = ${run} and i.seq = n.seq`.execute(tx);
  }
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
  const ground = documentGround(readJob(job.document).piece);
  if (!ground || ground.blocks.length === 0) return {};
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
