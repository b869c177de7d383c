import { type WhichRecords } from '../../contract';
import { sql, type RawBuilder } from 'kysely';
import { titleColumn, type Column, type Values } from '../../core/records/columns';
import { mostCopies, type RunOptions } from '../../core/run/plan';
import type { OutputNeeds } from '../../core/run/outputs/needs';
import type { Database } from '../platform';
import { maskedText } from '../access';
import { sortedBy } from '../jobs';

export interface Choice {
  which: WhichRecords;
  /** For ticked and shown records: their numbers, of the shown in their order. */
  shown: readonly number[];
  /** For `failed`: the run whose failed codes are made again. */
  from?: number;
  /**
   * Column id and `up` or `down`: the pieces are made in this order, blanks last; without it in
   * that of the list, or as they are shown.
   */
  sort?: string;
  /** The column by which records share a document: if one is made again, it is always whole. */
  by?: string;
  /** The verdicts on a record that count for an output. */
  needs: OutputNeeds;
  /** A record that needs a look is left out, even if it was asked for. */
  onlyReady?: boolean;
}

export interface ChosenItem {
  seq: number;
  record_id: number;
  values: Values;
  content: string | null;
}

/** For outputs with one file or line per record, instead of pieces on sheets. */
export const onePerRecord = (options: RunOptions): RunOptions => ({
  ...options,
  start: 1,
  copies: 1,
  copiesFrom: undefined,
});

/**
 * The requested records, whether or not they can be made: the basis of what a run reports as left
 * out.
 */
function meant(choice: Choice, jobId: number): RawBuilder<boolean> {
  const own = meantAlone(choice);
  const { by, which } = choice;
  if (by === undefined || !(which === 'new' || which === 'changed' || which === 'failed'))
    return own;
  const of = sql`coalesce(trim(p.values->>${by}), '')`;
  return sql<boolean>`${of} in (
    select ${of} from job_rows r join records p on p.id = r.record_id
      where r.job_id = ${jobId} and ${own})`;
}

function meantAlone({ which, shown, from }: Choice): RawBuilder<boolean> {
  const numbers = [...shown];
  return {
    ready: sql<boolean>`true`,
    'with-code': sql<boolean>`true`,
    ticked: sql<boolean>`r.record_id = any(${numbers}::bigint[])`,
    filtered: sql<boolean>`r.record_id = any(${numbers}::bigint[])`,
    new: sql<boolean>`r.run_id is null`,
    changed: sql<boolean>`r.printed <> r.content`,
    failed: sql<boolean>`r.record_id in (select record from (${failedOf(from ?? 0)}) f)`,
  }[which];
}

/**
 * The same as `copiesOf` of the core, for a text in the database; 0 if it is not a number of
 * pieces, which leaves the record out.
 */
const copiesIn = (text: RawBuilder<unknown>): RawBuilder<number> => sql<number>`
  case when ${text} = '' then 1
    when ${text} ~ '^([0-9]{1,4}|[0-9],[0-9]{3})([.]0{1,2})?$'
      and replace(split_part(${text}, '.', 1), ',', '')::int <= ${mostCopies}
      then replace(split_part(${text}, '.', 1), ',', '')::int
    else 0 end`;

/**
 * Records with a piece that did not read completely, each with the piece; of a document for
 * several, all of them.
 */
const failedOf = (run: number) => sql<{ record: number; seq: number }>`
  select coalesce((m->>'record')::bigint, c.record_id) as record, c.seq
  from receipts c join run_items i on i.run_id = c.run_id and i.seq = c.seq
  left join lateral jsonb_array_elements(i.members) m on true
  where c.run_id = ${run} and c.result <> 'read'`;

/** Whether nothing keeps a record from being made, by the verdicts that count for the output. */
export function isReady({ piece, codes }: OutputNeeds): RawBuilder<boolean> {
  if (piece && codes) return sql<boolean>`(r.overall = 'ready' and r.codes = 'ready')`;
  if (piece) return sql<boolean>`r.overall = 'ready'`;
  if (codes) return sql<boolean>`r.codes = 'ready'`;
  return sql<boolean>`(r.overall = 'ready' or r.codes = 'ready')`;
}

/** Whether a record has a code that can be drawn, on the piece or of any stamp. */
function hasCode({ piece }: OutputNeeds): RawBuilder<boolean> {
  if (piece) return sql<boolean>`r.drawn`;
  return sql<boolean>`exists (select from prints q
    where q.record_id = r.record_id and q.what like 'stamp:%' and q.mark = 'ready')`;
}

/** Which of a job's records can be made, and how many pieces each of them gets. */
function able(
  choice: Choice,
  { copies, copiesFrom }: RunOptions,
): { able: RawBuilder<unknown>; number: RawBuilder<unknown> } {
  const { which, needs } = choice;
  return {
    able:
      which === 'ready' || which === 'new' || choice.onlyReady ? isReady(needs) : hasCode(needs),
    number:
      which === 'failed' && choice.by === undefined
        ? // each piece that failed once more, however many the job now makes of a record
          sql`(select count(distinct seq)::int from (${failedOf(choice.from ?? 0)}) f
            where f.record = r.record_id)`
        : copiesFrom
          ? copiesIn(sql`trim(coalesce(p.values->>${copiesFrom}, ''))`)
          : sql`${copies}::int`,
  };
}

/** How many pieces those are, counted before any of them is made. */
export function chosenPieces(
  jobId: number,
  choice: Choice,
  options: RunOptions,
): RawBuilder<{ wanted: number }> {
  const { able: can, number } = able(choice, options);
  return sql`select coalesce(sum(${number}), 0)::bigint as wanted from job_rows r
    join records p on p.id = r.record_id
    where r.job_id = ${jobId} and ${can} and ${meant(choice, jobId)}`;
}

/**
 * The pieces that a run of a job makes, in their order, each record as often as it is wanted: a
 * query of {@link ChosenItem}.
 */
export function chosenItems(
  jobId: number,
  choice: Choice,
  options: RunOptions,
): RawBuilder<ChosenItem> {
  const { which, shown, sort } = choice;
  const { able: can, number } = able(choice, options);
  const byShown = which === 'filtered' && !sort;
  const order = sort ? sortedBy(sort) : byShown ? sql`place` : sql`position`;
  // by a join, since looking each up in a long array takes the square of its length
  const places = byShown
    ? sql`join unnest(${[...shown]}::bigint[]) with ordinality as shown(id, place)
      on shown.id = r.record_id`
    : sql``;
  return sql`
    select (row_number() over (order by ${order}, position, copy) - 1)::int as seq, record_id,
      values, content
    from (select p.position, r.record_id, p.values, r.content, c.copy ${byShown ? sql`, shown.place` : sql``}
      from job_rows r join records p on p.id = r.record_id ${places}
          cross join lateral generate_series(1, ${number}) c(copy)
          where r.job_id = ${jobId} and ${can} and ${meant(choice, jobId)}) records`;
}

const groupOf = (by: string) => sql`coalesce(trim(values->>${by}), '')`;

/**
 * Of the chosen pieces the first of each group, numbered again: one document is made for all of a
 * group.
 */
export const firstOfGroups = (chosen: RawBuilder<unknown>, by: string): RawBuilder<unknown> =>
  sql`select (row_number() over (order by seq) - 1)::int as seq, record_id, values, content
    from (select distinct on (of) seq, record_id, values, content
          from (select c.*, ${groupOf(by)} as of from (${chosen}) c) grouped
            order by of, seq) firsts`;

/** How many are of the largest group. */
export async function largestGroup(
  db: Database,
  chosen: RawBuilder<unknown>,
  by: string,
): Promise<number> {
  const { rows } = await sql<{ most: number }>`
    select coalesce(max(n), 0)::int as most
      from (select count(*) as n from (${chosen}) c group by ${groupOf(by)}) g`.execute(db);
  return rows[0]!.most;
}

/**
 * Adds to the first of each group the others of it, and the values of its document's rows.
 * @param chosen all pieces of the run, before one of each group was taken
 * @param rows keys of the rows
 */
export async function gatherGroups(
  tx: Database,
  runId: number,
  chosen: RawBuilder<unknown>,
  by: string,
  rows: readonly string[],
): Promise<void> {
  const beside = sql.join(rows.map((key) => sql`${key}::text, m.rows::text`));
  const withRows = sql`, values = (i.values::jsonb || jsonb_build_object(${beside}))::json`;
  await sql`
    with groups as (
      select ${groupOf(by)} as of,
        jsonb_agg(jsonb_build_object('record', record_id, 'content', content)
        order by seq) as members,
        json_agg(values order by seq) as rows
      from (${chosen}) c group by 1)
    update run_items i set members = m.members
      ${rows.length > 0 ? withRows : sql``}
    from groups m where i.run_id = ${runId}
      and coalesce(trim(i.values->>${by}), '') = m.of`.execute(tx);
}

/**
 * How many of the requested records are not chosen, and the first thousand of them with the reason.
 */
export async function leftOut(
  db: Database,
  jobId: number,
  columns: readonly Column[],
  choice: Choice,
  chosen: RawBuilder<unknown>,
  why: ReadonlyMap<number, string> = new Map(),
): Promise<{ count: number; rows: { title: string; reason: string; record: number }[] }> {
  const title = titleColumn(columns);
  const { rows } = await sql<{
    record: number;
    title: string;
    notes: { band: string; text: string }[];
    values: Values;
    count: number;
  }>`
    select p.id as record, coalesce(p.values->>${title?.id ?? ''}, '') as title, r.notes, p.values,
      count(*) over ()::int as count
    from job_rows r join records p on p.id = r.record_id
    where r.job_id = ${jobId} and ${meant(choice, jobId)} and r.record_id not in (${chosen})
    order by p.position limit 1000`.execute(db);
  return {
    count: rows[0]?.count ?? 0,
    rows: rows.map(({ record, title: name, notes, values }) => ({
      title: name,
      reason:
        why.get(record) ??
        (notes
          .filter((n) => choice.needs.piece || n.band !== 'piece')
          .map((n) => maskedText(columns, values, n.text))
          .join('; ') ||
          'its number of copies is 0'),
      record,
    })),
  };
}
