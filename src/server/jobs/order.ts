import { type RowsView } from '../../contract';
import { sql, type RawBuilder } from 'kysely';
import { type Database, heavy, Memo, Refusal } from '../platform';

/** The order of `records` by a column, numbers by their size; blanks stand last either way. */
export function sortedBy(sort: string): RawBuilder<unknown> {
  const [column, way] = sort.split(':');
  const value = sql`nullif(trim(coalesce(records.values->>${column}, '')), '') collate natural_order`;
  return way === 'down' ? sql`${value} desc nulls last` : sql`${value} asc nulls last`;
}

export const wholeList: RowsView = { filter: 'all', q: '', where: [] };

/**
 * Whether a record's whole text may hold some words: quick, and never no where a cell does. Plain
 * letters are compared as bytes, which takes a third of the time; the two letters beyond them that
 * are small as one of them (İ, and the sign for kelvin) are looked for besides. What JSON writes as
 * escapes is not looked for here.
 */
function mayHold(words: string): RawBuilder<boolean> {
  // eslint-disable-next-line no-control-regex -- JSON writes these as escapes
  if (/["\\\x00-\x1f]/.test(words)) return sql`true`;
  const like = `%${escapeLike(words)}%`;
  if (!/^[\x20-\x7e]*$/.test(words)) return sql`records.values::text ilike ${like}`;
  const plain = sql`records.values::text collate "C"`;
  return /[ik]/i.test(words)
    ? sql`(${plain} ilike ${like} or ${plain} like ${'%\u0130%'} or ${plain} like ${'%\u212a%'})`
    : sql`${plain} ilike ${like}`;
}

const escapeLike = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

/** The rows of a job that a view shows, in no order yet. */
function shown(db: Database, jobId: number, view: RowsView, hidden: readonly string[]) {
  if (view.where.some(({ column }) => hidden.includes(column)))
    throw new Refusal('This column is secret, so it cannot be looked through.', 403);
  let query = db
    .selectFrom('job_rows')
    .innerJoin('records', 'records.id', 'job_rows.record_id')
    .where('job_rows.job_id', '=', jobId);
  if (view.filter === 'new')
    query = query.where('job_rows.run_id', 'is', null).where('job_rows.overall', '=', 'ready');
  else if (view.filter === 'changed')
    query = query.where(sql<boolean>`job_rows.printed <> job_rows.content`);
  else if (view.filter !== 'all') query = query.where('job_rows.overall', '=', view.filter);
  if (view.problem !== undefined) {
    const { problem } = view;
    query = query.where(
      sql<boolean>`exists (select 1 from problems p where p.record_id = records.id and p.kind = ${problem})`,
    );
  }
  for (const { column, is, text } of view.where) {
    const value = sql<string>`trim(coalesce(records.values->>${column}, ''))`;
    if (is === 'blank') query = query.where(sql<boolean>`${value} = ''`);
    else if (is === 'filled') query = query.where(sql<boolean>`${value} <> ''`);
    else if (is === 'is')
      query = query.where(
        sql<boolean>`${mayHold(text.trim())} and lower(${value}) = lower(${text.trim()})`,
      );
    else
      query = query.where(
        sql<boolean>`${mayHold(text.trim())} and ${value} ilike ${`%${escapeLike(text.trim())}%`}`,
      );
  }
  const words = view.q.trim();
  if (words !== '') {
    const like = `%${escapeLike(words)}%`;
    // the whole text first; then the cells, so that neither headings nor quotes of JSON are found
    query = query.where(
      sql<boolean>`${mayHold(words)} and exists (select 1 from json_each_text(records.values) cell where cell.value ilike ${like} and cell.key <> all(${[...hidden]}::text[]))`,
    );
  }
  return query;
}

/** What the order and the marks of a job's records can depend on, told by a few counts. */
export async function standing(db: Database, jobId: number): Promise<string> {
  const job = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select([
      'jobs.version',
      'jobs.checked',
      'jobs.judged',
      'lists.judged as list_judged',
      'lists.changes',
      'lists.revision',
    ])
    .select(
      sql<Date | null>`(select max(finished_at) from runs where runs.job_id = jobs.id)`.as(
        'printed',
      ),
    )
    .where('jobs.id', '=', jobId)
    .executeTakeFirstOrThrow();
  return JSON.stringify([jobId, job]);
}

const shared = globalThis as typeof globalThis & { handStampOrders?: Memo<readonly number[]> };
/** An order is worked out once for everybody and all the windows of a long list. */
const orders = (shared.handStampOrders ??= new Memo(60, 60_000));
const heavily = heavy(3, 60);

/**
 * Numbers of the records that a view shows, in its order.
 * @param hidden columns by which whoever asks may neither look nor sort
 */
export async function orderOf(
  db: Database,
  jobId: number,
  view: RowsView,
  hidden: readonly string[] = [],
): Promise<readonly number[]> {
  if (hidden.includes(view.sort?.split(':')[0] ?? ''))
    throw new Refusal('This column is secret, so records are not sorted by it.', 403);
  return orders.get(db, `${await standing(db, jobId)} ${JSON.stringify([view, hidden])}`, () =>
    heavily(async () => {
      let query = shown(db, jobId, view, hidden).select('job_rows.record_id as id');
      if (view.sort) query = query.orderBy(sortedBy(view.sort));
      // as one text: a row for each of many thousands costs more than finding them
      const { ids } = await db
        .selectFrom(query.orderBy('job_rows.position').as('shown'))
        .select(sql<string | null>`string_agg(id::text, ',')`.as('ids'))
        .executeTakeFirstOrThrow();
      return ids === null ? [] : ids.split(',').map(Number);
    }),
  );
}
