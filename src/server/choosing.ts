import { sql, type RawBuilder } from 'kysely';
import { keyColumn, nameColumn, type Column, type Values } from '../core/records/columns';
import type { RunOptions } from '../core/run/plan';
import type { Database } from './db';

/**
 * Those that are ready; all that have a code, those that need a look too; the ticked, the shown, those not printed yet or changed
 * since among them; or those whose code failed in an earlier run.
 */
export const whichRecords = ['ready', 'with-code', 'ticked', 'filtered', 'new', 'changed', 'failed'] as const;
export type WhichRecords = (typeof whichRecords)[number];

export interface Choice {
  which: WhichRecords;
  /** Of the ticked and the shown: their numbers, of the shown in their order. */
  shown: readonly number[];
  /** Of `failed`: the run whose failed codes are made again. */
  from?: number;
}

export interface ChosenItem {
  seq: number;
  record_id: number;
  values: Values;
  content: string | null;
}

/** Where each record is one file or one line, not so many pieces on sheets. */
export const onePerRecord = (options: RunOptions): RunOptions => ({ ...options, start: 1, copies: 1, copiesFrom: undefined });

/** The pieces that a run of a job makes, in their order, each record as often as it is wanted: a query of {@link ChosenItem}. */
export function chosenItems(jobId: number, { which, shown, from }: Choice, { copies, copiesFrom }: RunOptions): RawBuilder<ChosenItem> {
  const coded = sql`r.stamps_mark = 'ready'`;
  const numbers = [...shown];
  const chosen = {
    ready: sql`r.overall = 'ready'`,
    'with-code': coded,
    ticked: sql`${coded} and r.record_id = any(${numbers}::bigint[])`,
    filtered: sql`${coded} and r.record_id = any(${numbers}::bigint[])`,
    new: sql`r.overall = 'ready' and r.run_id is null`,
    changed: sql`${coded} and r.printed <> r.content`,
    failed: sql`${coded} and r.record_id in (select record_id from receipts where run_id = ${from ?? 0} and result <> 'read')`,
  }[which];
  const number = copiesFrom
    ? sql`case when trim(p.values->>${copiesFrom}) ~ '^[0-9]{1,4}$' then least(1000, trim(p.values->>${copiesFrom})::int) else 1 end`
    : sql`${copies}::int`;
  const order = which === 'filtered' ? sql`array_position(${numbers}::bigint[], record_id)` : sql`position`;
  return sql`
    select (row_number() over (order by ${order}, copy) - 1)::int as seq, record_id, values, content
    from (select p.position, r.record_id, p.values, r.content, c.copy from job_rows r join records p on p.id = r.record_id
          cross join lateral generate_series(1, ${number}) c(copy)
          where r.job_id = ${jobId} and ${chosen}) wanted`;
}

/** The records of a job that are not among the chosen, with why, the first thousand. */
export async function leftOut(
  db: Database,
  jobId: number,
  columns: readonly Column[],
  chosen: RawBuilder<unknown>,
): Promise<{ title: string; reason: string; record: number }[]> {
  const title = nameColumn(columns) ?? keyColumn(columns) ?? columns[0];
  const rows = await db
    .selectFrom('job_rows')
    .innerJoin('records', 'records.id', 'job_rows.record_id')
    .select(['records.id', sql<string>`coalesce(records.values->>${title.id}, '')`.as('title'), 'job_rows.notes'])
    .where('job_rows.job_id', '=', jobId)
    .where(sql<boolean>`job_rows.record_id not in (${chosen})`)
    .orderBy('records.position')
    .limit(1000)
    .execute();
  return rows.map((row) => ({ title: row.title, reason: row.notes.map((n) => n.text).join('; '), record: row.id }));
}
