import { type RowsView } from '../../contract';
import { sql, type RawBuilder } from 'kysely';
import { isFresh } from '../judging';
import { type Database, heavy, log, Memo, Refusal, oncePerProcess } from '../platform';

/** The order of `records` by a column, numbers by size; blanks come last in both directions. */
export function sortedBy(sort: string): RawBuilder<unknown> {
  const [column, way] = sort.split(':');
  const value = sql`nullif(trim(coalesce(records.values->>${column}, '')),
    '') collate natural_order`;
  return way === 'down' ? sql`${value} desc nulls last` : sql`${value} asc nulls last`;
}

export const wholeList: RowsView = { filter: 'all', q: '', where: [] };

/** Whether a view filters by marks alone, in the order of the list. */
export const isPlain = (view: RowsView): boolean =>
  view.q.trim() === '' && view.where.length === 0 && !view.sort && !view.problem;

/** The query for the records of a view. */
interface Ground {
  list: number;
  /** Every record of the list has its row in the job, at its position in the list. */
  fresh: boolean;
  /** Whether some record contains İ or the kelvin sign, whose lower case is a plain letter. */
  rare: boolean;
}

/**
 * Whether the whole text of a record may contain some words: quick, and never false if a cell does.
 * Plain letters are compared as bytes, which takes a third of the time. The two other letters whose
 * lower case is a plain one (İ and the kelvin sign) are searched separately, if the list has them.
 * JSON escapes are not searched here.
 */
function mayHold(words: string, { rare }: Ground): RawBuilder<boolean> {
  if (/["\\\x00-\x1f]/.test(words)) return sql`true`;
  if (!/^[\x20-\x7e]*$/.test(words))
    return sql`records.values::text ilike ${`%${escapeLike(words)}%`}`;
  const holds = sql<boolean>`strpos(lower(${plainText}), ${words.toLowerCase()}) > 0`;
  return rare && hasRare.test(words) ? sql`(${holds} or ${holdsRare})` : holds;
}

const plainText = sql`records.values::text collate "C"`;
const hasRare = /[ik]/i;
const holdsRare = sql<boolean>`(strpos(${plainText}, ${'\u0130'}) > 0
  or strpos(${plainText}, ${'\u212a'}) > 0)`;

const escapeLike = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

/** Numbers of the records that a view shows, in its order. */
function shown(
  db: Database,
  jobId: number,
  view: RowsView,
  { ground, hidden }: { ground: Ground; hidden: readonly string[] },
) {
  let query = db
    .selectFrom('records')
    .select('records.id')
    .where('records.list_id', '=', ground.list);
  const { problem } = view;
  if (problem !== undefined)
    query = query.where(
      sql<boolean>`exists (select 1 from problems p
        where p.record_id = records.id and p.kind = ${problem})`,
    );
  for (const condition of view.where) query = query.where(meets(condition, ground));
  const words = view.q.trim();
  if (words !== '') {
    const like = `%${escapeLike(words)}%`;
    // the whole text first; then the cells, so that neither headings nor quotes of JSON are found
    query = query.where(
      sql<boolean>`${mayHold(words, ground)}
        and exists (select 1 from json_each_text(records.values) cell
        where cell.value ilike ${like} and cell.key <> all(${[...hidden]}::text[]))`,
    );
  }
  if (view.sort) query = query.orderBy(sortedBy(view.sort));
  // if no mark is asked for, the answer for a checked list needs no join
  if (ground.fresh && view.filter === 'all') return query.orderBy('records.position');
  let marked = query
    .innerJoin('job_rows', 'job_rows.record_id', 'records.id')
    .where('job_rows.job_id', '=', jobId);
  if (view.filter === 'new')
    marked = marked.where('job_rows.run_id', 'is', null).where('job_rows.overall', '=', 'ready');
  else if (view.filter === 'changed')
    marked = marked.where(sql<boolean>`job_rows.printed <> job_rows.content`);
  else if (view.filter !== 'all') marked = marked.where('job_rows.overall', '=', view.filter);
  return marked.orderBy('job_rows.position');
}

/** Whether a record meets one condition on a column. */
function meets(
  { column, is, text }: RowsView['where'][number],
  ground: Ground,
): RawBuilder<boolean> {
  const value = sql<string>`trim(coalesce(records.values->>${column}, ''))`;
  const words = text.trim();
  switch (is) {
    case 'blank':
      return sql`${value} = ''`;
    case 'filled':
      return sql`${value} <> ''`;
    case 'is':
      return sql`(${mayHold(words, ground)} and lower(${value}) = lower(${words}))`;
    case 'holds':
      return sql`(${mayHold(words, ground)} and ${value} ilike ${`%${escapeLike(words)}%`})`;
  }
}

/** Everything that the order and the marks of a job's records can depend on, as a few counts. */
export const stateOf = (db: Database, jobId: number) =>
  db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select([
      'jobs.list_id',
      'jobs.version',
      'jobs.changes as job_changes',
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

/** Whether every record has been checked by the current list and job. */
export const isJudged = (state: State): boolean =>
  isFresh(
    { changes: state.changes, judged: state.list_judged },
    { changes: state.job_changes, judged: state.judged },
  );

/** A long list's order is calculated once, for everybody and all windows. */
const orders = oncePerProcess('jobs.orders', () => new Memo<readonly number[]>(60, 60_000));
const rareOf = oncePerProcess('jobs.rare', () => new Memo<{ rare: boolean }>(500, 10 * 60_000));
const heavily = heavy(3, 60);

/** The query of a job's view, and the name of its cached order. */
async function askOf(db: Database, jobId: number, view: RowsView, hidden: readonly string[]) {
  if (hidden.includes(view.sort?.split(':')[0] ?? ''))
    throw new Refusal(
      'This column is secret, so you cannot sort by it. Choose another column.',
      403,
    );
  if (view.where.some(({ column }) => hidden.includes(column)))
    throw new Refusal(
      'This column is secret, so you cannot search it. Choose another column.',
      403,
    );
  const state = await stateOf(db, jobId);
  return { state, name: JSON.stringify([jobId, state, view, hidden]) };
}

type State = Awaited<ReturnType<typeof stateOf>>;

const groundOf = (state: State, rare: boolean): Ground => ({
  list: state.list_id,
  fresh: isJudged(state),
  rare,
});

/** Whether any record of a list has letters that `mayHold` searches separately. */
const listHasRare = (db: Database, { list_id: list, changes, list_judged }: State) =>
  rareOf.get(db, `${list} ${changes} ${list_judged}`, () =>
    db
      .selectNoFrom((e) =>
        e
          .exists(
            e
              .selectFrom('records')
              .select('id')
              .where('list_id', '=', list)
              .where(
                sql<boolean>`octet_length(records.values::text) <> length(records.values::text)`,
              )
              .where(holdsRare),
          )
          .as('rare'),
      )
      .$castTo<{ rare: boolean }>()
      .executeTakeFirstOrThrow(),
  );

/**
 * Numbers of the records in a view, in order.
 * @param hidden columns by which the person may neither search nor sort
 * @throws Refusal if the view uses one of them
 */
export async function orderOf(
  db: Database,
  jobId: number,
  view: RowsView,
  hidden: readonly string[] = [],
): Promise<readonly number[]> {
  const { name, state } = await askOf(db, jobId, view, hidden);
  return orders.get(db, name, () =>
    heavily(async () => {
      const find = async (rare: boolean) => {
        const ground = groundOf(state, rare);
        // as one text: returning many thousand rows would cost more than finding them
        const { ids } = await db
          .selectFrom(shown(db, jobId, view, { ground, hidden }).as('shown'))
          .select(sql<string | null>`string_agg(id::text, ',')`.as('ids'))
          .executeTakeFirstOrThrow();
        return ids === null ? [] : ids.split(',').map(Number);
      };
      const asksRare = hasRare.test(view.q) || view.where.some(({ text }) => hasRare.test(text));
      if (!asksRare) return find(false);
      // hardly any list has them, so it is checked at the same time
      const [found, { rare }] = await Promise.all([find(false), listHasRare(db, state)]);
      return rare ? find(true) : found;
    }),
  );
}

/** From this many records on, the first ones are looked for before all are sorted. */
const long = 20_000;

/**
 * The first records of a long list sorted by a column, if the whole order is not cached: they are
 * found in half the time, and the rest follows before anybody has scrolled that far. Undefined if
 * the order has to be asked for, or is cached.
 *
 * @param count of the records of the job
 * @throws Refusal as `orderOf` does
 */
export async function firstOf(
  db: Database,
  jobId: number,
  view: RowsView,
  { count, limit, hidden }: { count: number; limit: number; hidden: readonly string[] },
): Promise<readonly number[] | undefined> {
  if (!view.sort || count < long) return undefined;
  if (view.filter !== 'all' || !isPlain({ ...view, sort: undefined })) return undefined;
  const { name, state } = await askOf(db, jobId, view, hidden);
  if (!isJudged(state) || orders.has(db, name)) return undefined;
  const ground = groundOf(state, false);
  const first = await heavily(() =>
    shown(db, jobId, view, { ground, hidden }).limit(limit).execute(),
  );
  orderOf(db, jobId, view, hidden).catch((error: unknown) =>
    log.warn({ err: error, job: jobId }, 'an order was not worked out ahead'),
  );
  return first.map((row) => row.id);
}
