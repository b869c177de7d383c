import { purposeOf } from '../../core/payload/purposes';
import { judgeListCard, judgePieceCard } from './cards';
import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import { type JobDocument, readJob } from '../../core/job/document';
import { columnsOf, contentFit, sayingOf, type Saying, type Stamp } from '../../core/payload/stamp';
import { judgingOf } from '../../core/grounds/judging';
import { keyColumn, type Column, type Values } from '../../core/records/columns';
import { byEye } from '../../core/records/look-alikes';
import { commonShape, shapeOf } from '../../core/records/problems';
import type { Doubts } from '../../core/records/reading';
import { stepOf } from '../../core/records/steps';
import { stepTroubles } from '../../core/records/worked';
import { valuesBeside } from './beside';
import { judgeRow, type Mark, type RowFacts, type RowVerdict } from '../../core/run/judge';
import { breather, type Database, enqueue, fontsOf, oneOf } from '../platform';
import { changed } from './freshness';
import { pictureKey } from '../../core/records/picture-key';

/**
 * Lists up to this many records are judged at once; longer ones in the background, with progress.
 */
const atOnce = 3000;
const batch = 2000;

interface JudgedList {
  id: number;
  /** The count of changes when it was loaded. */
  changes: number;
  columns: Column[];
  stamps: Stamp[];
  shapes: Record<string, string>;
  jobs: { id: number; changes: number; document: JobDocument }[];
}
interface Judged {
  id: number;
  position: number;
  values: Values;
  doubts: Doubts | null;
}

async function loadList(
  db: Database,
  listId: number,
  onlyJob?: number,
): Promise<JudgedList | undefined> {
  const list = await db
    .selectFrom('lists')
    .select(['id', 'columns', 'stamps', 'shapes', 'changes'])
    .where('id', '=', listId)
    .executeTakeFirst();
  if (!list) return undefined;
  let query = db
    .selectFrom('jobs')
    .select(['id', 'document', 'changes'])
    .where('list_id', '=', listId)
    .orderBy('id');
  if (onlyJob !== undefined) query = query.where('id', '=', onlyJob);
  const jobs = await query.execute();
  return {
    ...list,
    jobs: jobs.map((job) => ({
      id: job.id,
      changes: job.changes,
      document: { ...readJob(job.document), stamps: list.stamps },
    })),
  };
}

/** Records of a list. */
export async function countOf(db: Database, listId: number): Promise<number> {
  const { count } = await db
    .selectFrom('records')
    .select((e) => e.fn.countAll<number>().as('count'))
    .where('list_id', '=', listId)
    .executeTakeFirstOrThrow();
  return count;
}

/**
 * How many letters of long values are checked while somebody waits, and from how many letters a
 * value is long. A check costs in proportion to the values, and a web server that checks a few
 * hundred thousand letters answers nobody else in that time.
 */
const heavyLetters = 40_000;
const longValue = 500;

/** Whether the long values of a list, or of some records, are more than is judged at once. */
async function isHeavy(db: Database, listId: number, ids?: readonly number[]): Promise<boolean> {
  const of = ids ? sql`and id = any(${[...ids]}::bigint[])` : sql``;
  const { rows } = await sql<{ letters: number }>`
    select coalesce(sum(length(v.value)), 0)::float as letters
    from (select values from records
        where list_id = ${listId} ${of} and octet_length(values::text) > ${longValue}
        limit ${atOnce + 1}) r
      cross join lateral json_each_text(r.values) v
    where length(v.value) > ${longValue}`.execute(db);
  return rows[0]!.letters > heavyLetters;
}

/** Whether a list has more records than are checked while somebody waits. */
async function isLong(db: Database, listId: number): Promise<boolean> {
  const beyond = await db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', listId)
    .offset(atOnce)
    .limit(1)
    .executeTakeFirst();
  return beyond !== undefined;
}

/**
 * Checks every record of a list again, in all its jobs, after its records, columns or stamps
 * changed.
 * @param seen the records on the screen of the person who made the change: in a long list they are
 *   checked at once, the others in the background
 */
export async function rejudgeList(
  db: Database,
  listId: number,
  seen: readonly number[] = [],
): Promise<void> {
  const long = await isLong(db, listId);
  if (!long && !(await isHeavy(db, listId))) return judgeListNow(db, listId);
  if (long) await judgeSeen(db, listId, seen);
  await judgeInBackground(db, listId);
}

const judgeInBackground = (db: Database, listId: number): Promise<void> =>
  enqueue(
    db,
    judgeListCard,
    { list: listId },
    { key: `judge-list-${listId}`, queue: `list-${listId}` },
  );

/** The same after its pictures changed. */
export async function rejudgePictures(db: Database, listId: number): Promise<void> {
  await changed(db, listId);
  await rejudgeList(db, listId);
}

/**
 * Checks every record of one job again, after its piece changed; the results of the list itself
 * stay.
 * @param seen as for `rejudgeList`
 */
export async function rejudgePiece(
  db: Database,
  jobId: number,
  seen: readonly number[] = [],
): Promise<void> {
  const job = await db
    .selectFrom('jobs')
    .select('list_id')
    .where('id', '=', jobId)
    .executeTakeFirstOrThrow();
  const long = await isLong(db, job.list_id);
  if (!long && !(await isHeavy(db, job.list_id))) return judgePieceNow(db, jobId);
  if (long) await judgeSeen(db, job.list_id, seen, jobId);
  await enqueue(
    db,
    judgePieceCard,
    { job: jobId },
    { key: `judge-${jobId}`, queue: `list-${job.list_id}` },
  );
}

export async function judgePieceNow(db: Database, jobId: number): Promise<void> {
  const job = await db
    .selectFrom('jobs')
    .select('list_id')
    .where('id', '=', jobId)
    .executeTakeFirst();
  if (!job) return;
  const list = await loadList(db, job.list_id, jobId);
  if (!list) return;
  await begin(db, list);
  const [own] = list.jobs;
  const whole = await judgeAll(db, list, await repeatedPrints(db, job.list_id), {
    holds: async (tx) => {
      const now = await tx
        .selectFrom('jobs')
        .select('changes')
        .where('id', '=', jobId)
        .executeTakeFirst();
      return now?.changes === own?.changes;
    },
  });
  if (whole) await end(db, list);
}

/**
 * Checks the few records on somebody's screen, by what is known of the others. What is stored of
 * the other codes may be old; the check of the whole list corrects it.
 */
async function judgeSeen(
  db: Database,
  listId: number,
  ids: readonly number[],
  onlyJob?: number,
): Promise<void> {
  if (ids.length === 0 || (await isHeavy(db, listId, ids))) return;
  await db.transaction().execute(async (tx) => {
    await lockList(tx, listId);
    const list = await loadList(tx, listId, onlyJob);
    if (!list) return;
    const records = await recordsOf(tx, listId).where(oneOf('id', ids)).execute();
    const repeated: Repeated = new Map();
    await addRepeated(tx, listId, ids, repeated);
    await storeVerdicts(tx, list, records, repeated);
  });
}

/**
 * Checks every record of a list. First it finds out how values are built, then it checks each
 * record by the repeats known so far, and at the end those for which that has changed. It stops if
 * the stamps of the list are changed in the meantime: the change has queued a check by the new
 * ones.
 */
export async function judgeListNow(db: Database, listId: number): Promise<void> {
  const list = await loadList(db, listId);
  if (!list) return;
  await db
    .deleteFrom('prints')
    .where('list_id', '=', listId)
    .where('what', 'not in', ['key', 'eye', ...list.stamps.map((s) => `stamp:${s.id}`)])
    .execute();
  const repeated = await repeatedPrints(db, listId);
  await begin(db, list);
  // the first records of the list are seen at once
  await firstOnes(db, list, async (tx, records) => {
    if (await stampsHold(tx, list)) await storeVerdicts(tx, list, records, repeated);
  });
  list.shapes = await shapesOf(db, list);
  await db
    .updateTable('lists')
    .set({ shapes: JSON.stringify(list.shapes) })
    .where('id', '=', listId)
    .execute();
  const whole = await judgeAll(db, list, repeated, {
    before: storePrints,
    holds: (tx) => stampsHold(tx, list),
  });
  if (!whole) return;
  await judgeOthers(db, list, repeated, await repeatedPrints(db, listId));
  await end(db, list);
  // the database's statistics are older than a list that has just arrived, and it would plan badly
  if (await isLong(db, listId))
    await sql`analyze (skip_locked) records, job_rows, prints, problems`.execute(db);
  await db
    .updateTable('lists')
    .set({ judged: sql<number>`greatest(judged, ${list.changes})` })
    .where('id', '=', listId)
    .where('working', '=', 0)
    .execute();
}

/** Whether the stamps of a list are still those that were loaded. */
async function stampsHold(tx: Database, list: JudgedList): Promise<boolean> {
  const now = await tx
    .selectFrom('lists')
    .select('stamps')
    .where('id', '=', list.id)
    .executeTakeFirst();
  return JSON.stringify(now?.stamps) === JSON.stringify(list.stamps);
}

/** How the values of each column are usually built. */
async function shapesOf(db: Database, list: JudgedList): Promise<Record<string, string>> {
  const shapes = new Map<string, Map<string, number>>();
  await inBatches(db, list, (_, records) => {
    countShapes(list.columns, records, shapes);
    return Promise.resolve(undefined);
  });
  const found: Record<string, string> = {};
  for (const [column, counts] of shapes) {
    if (column.startsWith('checked:')) {
      const twice = counts.get('twice') ?? 0;
      // by chance one number in ten seems to have its check digit
      if (twice >= 3 && twice >= 0.8 * (twice + (counts.get('once') ?? 0))) found[column] = 'twice';
      continue;
    }
    const shape = commonShape(counts);
    if (shape) found[column] = shape;
  }
  return found;
}

/**
 * Checks those records again that turned out only now to share a key or a code with others, or no
 * longer do.
 */
async function judgeOthers(
  db: Database,
  list: JudgedList,
  before: Repeated,
  now: Repeated,
): Promise<void> {
  const differs: { what: string; print: string }[] = [];
  for (const [one, other] of [
    [before, now],
    [now, before],
  ] as const)
    for (const [what, prints] of one)
      for (const print of prints) if (!other.get(what)?.has(print)) differs.push({ what, print });
  if (differs.length === 0) return;
  const { rows } = await sql<{ id: number }>`
    select distinct p.record_id as id from prints p
    join unnest(${differs.map((d) => d.what)}::text[],
      ${differs.map((d) => d.print)}::text[]) as t(what, print)
      on p.what = t.what and p.print = t.print
    where p.list_id = ${list.id} order by 1`.execute(db);
  for (let at = 0; at < rows.length; at += batch) {
    const ids = rows.slice(at, at + batch).map((r) => r.id);
    await db.transaction().execute(async (tx) => {
      await lockList(tx, list.id);
      if (!(await stampsHold(tx, list))) return;
      const records = await recordsOf(tx, list.id).where(oneOf('id', ids)).execute();
      await storeVerdicts(tx, list, records, now);
    });
  }
}

const mostShapes = 40;
/** Marks, among the shapes, a worked column that gives its numbers a second check digit. */
const checkedKey = (column: string): string => `checked:${column}`;

function countShapes(
  columns: readonly Column[],
  records: readonly Judged[],
  shapes: Map<string, Map<string, number>>,
): void {
  for (const column of columns) {
    if (column.worked?.steps.some((step) => stepOf(step).trouble)) {
      const counts = shapes.get(checkedKey(column.id)) ?? new Map<string, number>();
      shapes.set(checkedKey(column.id), counts);
      for (const { values, position } of records) {
        const twice = stepTroubles(column.worked, values, position).some(
          (t) => t.kind === 'check-digit',
        );
        const kind = twice ? 'twice' : (values[column.id] ?? '') === '' ? 'blank' : 'once';
        counts.set(kind, (counts.get(kind) ?? 0) + 1);
      }
    }
    if (column.worked || column.role === 'name') continue;
    const counts = shapes.get(column.id) ?? new Map<string, number>();
    shapes.set(column.id, counts);
    for (const { values } of records) {
      const text = (values[column.id] ?? '').trim();
      if (text === '' || counts.size > mostShapes) continue;
      const shape = shapeOf(text);
      counts.set(shape, (counts.get(shape) ?? 0) + 1);
    }
    // a column of free text has no common shape
    if (counts.size > mostShapes) counts.clear();
  }
}

const jobsOf = (list: JudgedList): number[] => [...list.jobs.map((j) => j.id), -1];

/** From here on windows show how many records have been checked. */
const begin = (db: Database, list: JudgedList) =>
  db.updateTable('jobs').set({ checked: 0 }).where('id', 'in', jobsOf(list)).execute();

async function end(db: Database, list: JudgedList): Promise<void> {
  for (const job of list.jobs)
    await db
      .updateTable('jobs')
      .set({ checked: 0, judged: sql<number>`greatest(judged, ${job.changes})` })
      .where('id', '=', job.id)
      .execute();
}

/**
 * Checks every record and reports whether it reached the end.
 * @param before what else is stored of the records, in the same transaction
 * @param holds whether the rules of the check still apply; it stops if they do not, so that no old
 *   verdict replaces a new one
 */
async function judgeAll(
  db: Database,
  list: JudgedList,
  repeated: Repeated,
  { before, holds }: { before?: typeof storePrints; holds: (tx: Database) => Promise<boolean> },
): Promise<boolean> {
  let whole = true;
  await inBatches(db, list, async (tx, records) => {
    whole &&= await holds(tx);
    if (!whole) return 'enough';
    const said = records.map((record) => sayingOf(record.values));
    await before?.(tx, list, records, said);
    await storeVerdicts(tx, list, records, repeated, said);
    await tx
      .updateTable('jobs')
      .set((e) => ({ checked: e('checked', '+', records.length) }))
      .where('id', 'in', jobsOf(list))
      .execute();
    return undefined;
  });
  return whole;
}

const recordsOf = (tx: Database, listId: number) =>
  tx
    .selectFrom('records')
    .select(['id', 'position', 'values', 'doubts'])
    .where('list_id', '=', listId);

/** The records in the first window. */
const firstOnes = (
  db: Database,
  list: JudgedList,
  work: (tx: Database, records: Judged[]) => Promise<void>,
): Promise<void> =>
  db.transaction().execute(async (tx) => {
    await lockList(tx, list.id);
    await work(tx, await recordsOf(tx, list.id).orderBy('position').limit(100).execute());
  });

/**
 * Goes through a list in batches, each in a transaction with the list's lock. A changed cell is
 * checked either by the batch that reads it or by its own check afterwards, and an older verdict
 * never overwrites a newer one. While one batch is written the next is read; they share the lock,
 * changes do not.
 * @param work returns whether to stop
 */
async function inBatches(
  db: Database,
  list: JudgedList,
  work: (tx: Database, records: Judged[]) => Promise<'enough' | undefined>,
): Promise<void> {
  let writing: Promise<unknown> = Promise.resolve();
  let enough = false;
  for (let after: number | undefined = -1; after !== undefined && !enough;) {
    const from: number = after;
    let told!: (last: number | undefined) => void;
    const read = new Promise<number | undefined>((resolve) => (told = resolve));
    const before = writing;
    writing = db.transaction().execute(async (tx) => {
      await lockList(tx, list.id, 'shared');
      // between two positions: the database does not know how long a new list is, and would sort
      // all that follows for each batch
      const records = await recordsOf(tx, list.id)
        .where('position', '>', from)
        .where('position', '<=', from + batch)
        .orderBy('position')
        .execute();
      told(records.length === batch ? from + batch : await placeBefore(tx, list.id, from + batch));
      if (records.length > 0 && (await work(tx, records)) === 'enough') enough = true;
    });
    // a batch that fails ends the whole, as soon as the one before it is written
    writing.catch(() => undefined);
    after = await Promise.race([read, writing.then(() => read)]);
    await before;
  }
  await writing;
}

/** The place just before the next record after one; undefined where none follows. */
async function placeBefore(
  tx: Database,
  listId: number,
  after: number,
): Promise<number | undefined> {
  const { next } = await tx
    .selectFrom('records')
    .select((e) => e.fn.min<number | null>('position').as('next'))
    .where('list_id', '=', listId)
    .where('position', '>', after)
    .executeTakeFirstOrThrow();
  return next === null ? undefined : next - 1;
}

const lockList = (tx: Database, listId: number, how?: 'shared') =>
  how
    ? sql`select pg_advisory_xact_lock_shared(7421, ${listId}::int)`.execute(tx)
    : sql`select pg_advisory_xact_lock(7421, ${listId}::int)`.execute(tx);

/**
 * Checks some records again in every job of their list, and those that shared a key or a code with
 * them before or do now.
 * @param from the count of the change: if everything before it was checked, the list is fresh again
 */
export async function judgeRecords(
  db: Database,
  listId: number,
  ids: readonly number[],
  from?: number,
): Promise<void> {
  if (ids.length === 0) return settle(db, listId, from);
  if (await isHeavy(db, listId, ids)) return judgeInBackground(db, listId);
  await db.transaction().execute(async (tx) => {
    await lockList(tx, listId);
    const list = await loadList(tx, listId);
    if (!list) return;
    const read = (of: readonly number[]) => recordsOf(tx, listId).where(oneOf('id', of)).execute();
    const before = await printsOf(tx, listId, ids);
    await storePrints(tx, list, await read(ids));
    const touched = new Map(
      [...before, ...(await printsOf(tx, listId, ids))].map((p) => [`${p.what} ${p.print}`, p]),
    );
    const whats = [...touched.values()].map((p) => p.what);
    const prints = [...touched.values()].map((p) => p.print);
    const shared = await sql<{ record_id: number; what: string; print: string }>`
      select p.record_id, p.what, p.print from prints p
      join unnest(${whats}::text[], ${prints}::text[]) as t(what, print) on p.what = t.what
        and p.print = t.print
      where p.list_id = ${listId} limit 20000`.execute(tx);
    const repeated: Repeated = new Map();
    const seen = new Set<string>();
    for (const { what, print } of shared.rows) {
      if (seen.has(`${what} ${print}`))
        repeated.set(what, (repeated.get(what) ?? new Set<string>()).add(print));
      seen.add(`${what} ${print}`);
    }
    const affected = new Set([...ids, ...shared.rows.map((r) => r.record_id)]);
    // their other fingerprints decide too
    await addRepeated(tx, listId, [...affected], repeated);
    await storeVerdicts(tx, list, await read([...affected]), repeated);
    await settle(tx, listId, from);
    await tellNews(tx, listId);
  });
}

const settle = async (tx: Database, listId: number, from: number | undefined): Promise<void> => {
  if (from === undefined) return;
  await tx
    .updateTable('lists')
    .set({ judged: from })
    .where('id', '=', listId)
    .where('judged', '=', from - 1)
    .execute();
};

/** Verdicts come after the change itself, and are reported separately. */
const tellNews = (tx: Database, listId: number) =>
  sql`select pg_notify('hand_stamp_news', ${`list:${listId}`})`.execute(tx);

/** Other records that have a key or a code in common with these. */
export async function sharersOf(
  tx: Database,
  listId: number,
  ids: readonly number[],
): Promise<number[]> {
  const { rows } = await sql<{ record_id: number }>`
    select distinct p.record_id from prints o
      join prints p on p.list_id = o.list_id and p.what = o.what and p.print = o.print
    where o.list_id = ${listId} and o.record_id = any(${[...ids]}::bigint[])
      and p.record_id <> all(${[...ids]}::bigint[]) limit 20000`.execute(tx);
  return rows.map((r) => r.record_id);
}

const printsOf = (tx: Database, listId: number, ids: readonly number[]) =>
  tx
    .selectFrom('prints')
    .select(['what', 'print'])
    .where('list_id', '=', listId)
    .where(oneOf('record_id', ids))
    .where('print', 'is not', null)
    .execute();

type Repeated = Map<string, Set<string>>;

/** Adds the fingerprints of some records that others have too. */
async function addRepeated(
  tx: Database,
  listId: number,
  ids: readonly number[],
  repeated: Repeated,
): Promise<void> {
  const { rows } = await sql<{ what: string; print: string }>`
    select what, print from prints p
      where list_id = ${listId}
      and (what, print) in (select what, print from prints
      where record_id = any(${[...ids]}::bigint[]) and print is not null)
    group by what, print having count(*) > 1`.execute(tx);
  for (const { what, print } of rows)
    repeated.set(what, (repeated.get(what) ?? new Set<string>()).add(print));
}

async function repeatedPrints(db: Database, listId: number): Promise<Repeated> {
  const rows = await db
    .selectFrom('prints')
    .select(['what', 'print'])
    .where('list_id', '=', listId)
    .where('print', 'is not', null)
    .groupBy(['what', 'print'])
    .having((e) => e.fn.countAll<number>(), '>', 1)
    .execute();
  const repeated: Repeated = new Map();
  for (const { what, print } of rows)
    repeated.set(what, (repeated.get(what) ?? new Set<string>()).add(print!));
  return repeated;
}

/**
 * The contents of a record's piece and codes, as a hash: if it differs from the printed one, the
 * print is out of date.
 */
function contentHash({ stamps, piece }: JobDocument, values: Values, saying: Saying): string {
  const says = judgingOf(piece).says(piece, stamps, values, saying);
  return createHash('sha256').update(JSON.stringify(says)).digest('base64').slice(0, 22);
}

/** Long values are compared by their hash. */
const printOf = (text: string): string =>
  text.length <= 64 ? text : createHash('sha256').update(text).digest('base64');

interface OwnPrints {
  key: string | undefined;
  eye: string | undefined;
  /**
   * For each stamp the fingerprint of what it says, in order; null if it says nothing of its own.
   */
  stamps: (string | null)[];
}

/** What a record is compared by with the others. */
function printsFor({ columns, stamps }: JudgedList, values: Values, saying: Saying): OwnPrints {
  const key = keyColumn(columns);
  const text = key ? (values[key.id] ?? '').trim() : '';
  return {
    key: text ? printOf(text) : undefined,
    eye: text ? printOf(byEye(text)) : undefined,
    stamps: stamps.map((stamp) => {
      const content = saying(stamp);
      // a stamp of fixed text says the same everywhere, and is meant to
      const own = columnsOf(stamp).length > 0 || purposeOf(stamp.does).proves;
      return own && content.state === 'said' ? printOf(content.payload) : null;
    }),
  };
}

/** Whether a stamp has a code for a record. */
function markOf(stamp: Stamp, saying: Saying): Mark {
  const content = saying(stamp);
  if (content.state === 'blank') return 'out';
  return content.state === 'said' && contentFit(stamp, content).fits ? 'ready' : 'look';
}

/** @param said what the stamps say for each of the records */
async function storePrints(
  tx: Database,
  list: JudgedList,
  records: readonly Judged[],
  said = records.map((record) => sayingOf(record.values)),
): Promise<void> {
  const rows: { what: string; record: number; print: string | null; mark: Mark }[] = [];
  for (const [at, { id, values }] of records.entries()) {
    const own = printsFor(list, values, said[at]!);
    rows.push(
      { what: 'key', record: id, print: own.key ?? null, mark: 'ready' },
      { what: 'eye', record: id, print: own.eye ?? null, mark: 'ready' },
    );
    for (const [i, stamp] of list.stamps.entries())
      rows.push({
        what: `stamp:${stamp.id}`,
        record: id,
        print: own.stamps[i]!,
        mark: markOf(stamp, said[at]!),
      });
  }
  if (rows.length === 0) return;
  await sql`
    insert into prints (list_id, what, record_id, print, mark)
    select ${list.id}::int, *
      from unnest(${rows.map((r) => r.what)}::text[], ${rows.map((r) => r.record)}::bigint[],
      ${rows.map((r) => r.print)}::text[], ${rows.map((r) => r.mark)}::text[])
    on conflict (record_id, what) do update set print = excluded.print, mark = excluded.mark
    where prints.print is distinct from excluded.print or prints.mark <> excluded.mark`.execute(tx);
}

function factsFor(
  list: JudgedList,
  { values, position, doubts }: Judged,
  repeated: Repeated,
  saying: Saying,
): RowFacts {
  const own = printsFor(list, values, saying);
  const comesAgain = (what: string, print: string | null | undefined) =>
    Boolean(print) && (repeated.get(what)?.has(print!) ?? false);
  return {
    repeated: comesAgain('key', own.key),
    alike: comesAgain('eye', own.eye),
    shapes: list.shapes,
    checked: new Set(list.columns.flatMap((c) => (list.shapes[checkedKey(c.id)] ? [c.id] : []))),
    doubts: doubts ?? undefined,
    position,
    sameCode: new Set(
      list.stamps.map((s) => s.id).filter((id, i) => comesAgain(`stamp:${id}`, own.stamps[i])),
    ),
  };
}

async function storeVerdicts(
  tx: Database,
  list: JudgedList,
  records: readonly Judged[],
  repeated: Repeated,
  said = records.map((record) => sayingOf(record.values)),
): Promise<void> {
  if (records.length === 0) return;
  const facts = records.map((r, i) => factsFor(list, r, repeated, said[i]!));
  const wanted = list.jobs.some((j) =>
    j.document.piece.elements.some((e) => e.kind === 'picture' && e.column !== undefined),
  );
  const names = wanted
    ? await tx.selectFrom('list_pictures').select('name').where('list_id', '=', list.id).execute()
    : [];
  const known = new Set(names.map((n) => n.name.toLowerCase()));
  const hasPicture = (name: string) => known.has(pictureKey(name));
  for (const [at, job] of list.jobs.entries()) {
    const fonts = fontsOf(
      job.document.piece,
      records.map((r) => r.values),
    );
    const values = await valuesBeside(tx, job.document.piece, records);
    // rows of other lists beside a record do not change what its own stamps say, but are other
    // values
    const saying = (own: Values, i: number) =>
      own === records[i]!.values ? said[i]! : sayingOf(own);
    const verdicts: RowVerdict[] = [];
    const breathe = breather();
    for (const [i, own] of values.entries()) {
      await breathe();
      verdicts.push(
        judgeRow(job.document, list.columns, own, facts[i]!, fonts, hasPicture, saying(own, i)),
      );
    }
    await sql`
      insert into job_rows (job_id, record_id, position, records_mark, stamps_mark, piece_mark,
        overall, codes, drawn, notes, content)
      select ${job.id}::int, * from unnest(
        ${records.map((r) => r.id)}::bigint[], ${records.map((r) => r.position)}::int[],
          ${verdicts.map((v) => v.records)}::text[], ${verdicts.map((v) => v.stamps)}::text[],
        ${verdicts.map((v) => v.piece)}::text[], ${verdicts.map((v) => v.overall)}::text[],
        ${verdicts.map((v) => v.codes)}::text[], ${verdicts.map((v) => v.drawn)}::boolean[],
          ${verdicts.map((v) => (v.notes.length === 0 ? '[]' : JSON.stringify(v.notes)))}::json[],
        ${values.map((own, i) => contentHash(job.document, own, saying(own, i)))}::text[])
      on conflict (job_id, record_id)
        do update set position = excluded.position, records_mark = excluded.records_mark,
        stamps_mark = excluded.stamps_mark,
        piece_mark = excluded.piece_mark, overall = excluded.overall, codes = excluded.codes,
        drawn = excluded.drawn, notes = excluded.notes,
          content = excluded.content
      where (job_rows.position, job_rows.records_mark, job_rows.stamps_mark, job_rows.piece_mark,
        job_rows.overall, job_rows.codes, job_rows.drawn, job_rows.content, job_rows.notes::text)
        is distinct from (excluded.position, excluded.records_mark, excluded.stamps_mark,
          excluded.piece_mark, excluded.overall, excluded.codes, excluded.drawn, excluded.content,
          excluded.notes::text)`.execute(tx);
    // the problems of a record's values are the same in every job
    if (at > 0) continue;
    await tx
      .deleteFrom('problems')
      .where(
        oneOf(
          'record_id',
          records.map((r) => r.id),
        ),
      )
      .execute();
    const rows = verdicts.flatMap((v, i) =>
      v.problems.map((p) => ({ ...p, record: records[i]!.id })),
    );
    if (rows.length > 0)
      await sql`
        insert into problems (list_id, record_id, kind, column_id, text, mended)
        select ${list.id}::int, *
          from unnest(${rows.map((r) => r.record)}::bigint[], ${rows.map((r) => r.kind)}::text[],
          ${rows.map((r) => r.column)}::text[],
          ${rows.map((r) => r.text)}::text[], ${rows.map((r) => r.mended ?? null)}::text[])
            on conflict do nothing`.execute(tx);
  }
}
