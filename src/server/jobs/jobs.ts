import { sql } from 'kysely';
import type { z } from 'zod';
import { type Stored, StoredError } from '../../core/base/stored';
import { readJob, type StoredDocument, writeJob, writeVersion } from '../../core/job/document';
import { purposeOf } from '../../core/payload/purposes';
import { withoutPassword, withoutSecretText } from '../../core/payload/secrets';
import { includes, type Right } from '../../core/access/rights';
import type { Stamp } from '../../core/payload/stamp';
import { onGround } from '../../core/grounds';
import { keyColumn, nameColumn, secretsOf } from '../../core/records/columns';
import { holdsLinks } from '../../core/records/beginnings';
import type { Mark } from '../../core/run/judge';
import {
  clock,
  type Database,
  Memo,
  oneOf,
  Refusal,
  stampWithSealedKey,
  oncePerProcess,
} from '../platform';
import type { rowsQuerySchema, jumpSchema, jobChangeSchema, newJobSchema } from '../../contract';
import { type Filter, type JobSummary, type JobView, type LedgerWindow } from '../../contract';
import { changed, changedJob, countOf, isFresh, rejudgeList, rejudgePiece } from '../judging';
import { createJob, dropUndone, problemCounts, removeList } from '../lists';
import { firstOf, isJudged, isPlain, orderOf, stateOf } from './order';
import { lastDone } from './last-done';
import { askedColumns, maskedText, maskedValues, recordToken } from '../access';

/** Whether there is a job of this number. */
export const jobIsThere = async (db: Database, id: number): Promise<boolean> =>
  (await db.selectFrom('jobs').select('id').where('id', '=', id).executeTakeFirst()) !== undefined;

/** The job changed last, of those that may be seen; undefined if there is none. */
export async function latestJob(
  db: Database,
  only?: ReadonlySet<number>,
): Promise<number | undefined> {
  let query = db
    .selectFrom('jobs')
    .select('id')
    .orderBy('updated_at', 'desc')
    .orderBy('id', 'desc');
  if (only) query = query.where(oneOf('id', [...only]));
  return (await query.limit(1).executeTakeFirst())?.id;
}

/** The ground of a job's piece; in words, if this version cannot read the job. */
function groundWords(stored: Stored<StoredDocument>): string {
  try {
    const { piece } = readJob(stored);
    return onGround(piece).called(piece);
  } catch (error) {
    // one that cannot be read is reported, and does not hide the others
    if (error instanceof StoredError) return error.message;
    throw error;
  }
}

/** @param only the jobs that the person who asks may see; all if undefined */
export async function listJobs(db: Database, only?: ReadonlySet<number>): Promise<JobSummary[]> {
  const all = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select(['jobs.id', 'jobs.name', 'lists.name as list', 'jobs.updated_at', 'jobs.document'])
    .orderBy('jobs.updated_at', 'desc')
    .orderBy('jobs.id', 'desc')
    .execute();
  const jobs = only ? all.filter((job) => only.has(job.id)) : all;
  const runs = await db
    .selectFrom('runs')
    .distinctOn('job_id')
    .select(['job_id', 'name', 'state', 'codes_failed'])
    .orderBy('job_id')
    .orderBy('id', 'desc')
    .execute();
  const summaries: JobSummary[] = [];
  for (const job of jobs) {
    const run = runs.find((r) => r.job_id === job.id);
    // one after the other: what has not changed since is not counted again
    const { ready, look, out } = await rowCounts(db, job.id);
    summaries.push({
      id: job.id,
      name: job.name,
      list: job.list,
      on: groundWords(job.document),
      records: ready + look + out,
      ready,
      look,
      out,
      updated: job.updated_at.toISOString(),
      lastRun: run && { name: run.name, state: run.state, failed: run.codes_failed },
    });
  }
  return summaries;
}

/**
 * A job as a person sees it.
 * @param may their right to it: secrets in a stamp are masked for viewers
 */
export async function viewJob(db: Database, id: number, may: Right = 'editor'): Promise<JobView> {
  const job = await db
    .selectFrom('jobs')
    .selectAll()
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const list = await db
    .selectFrom('lists')
    .selectAll()
    .where('id', '=', job.list_id)
    .executeTakeFirstOrThrow();
  const current = isFresh(list, job);
  const [counts, records, jobs, reread, revisions, problems, stamps, undo, redo] =
    await Promise.all([
      rowCounts(db, id),
      current ? 0 : recordCount(db, list),
      jobCount(db, list.id),
      waitingReread(db, list.id),
      revisionCount(db, list.id),
      problemCounts(db, list.id),
      stampCounts(db, id, list),
      lastDone(db, id, list.id, 'undo'),
      lastDone(db, id, list.id, 'redo'),
    ]);
  const { all, ready, look, out, new: fresh, changed, ...bands } = counts;
  return {
    id,
    name: job.name,
    version: job.version,
    document: {
      ...readJob(job.document),
      stamps: includes(may, 'editor') ? list.stamps : list.stamps.map(withoutPassword),
    },
    list: {
      id: list.id,
      name: list.name,
      source: list.source,
      origin: list.origin,
      working: current ? 0 : list.working,
      jobs,
      reread,
      revisions,
      columns: list.columns,
      revision: list.revision,
      updated: list.updated_at.toISOString(),
    },
    counts: { all, ready, look, out, new: fresh, changed },
    bands,
    // verdicts that are not from what list and job are now are on their way
    judging: current ? 0 : Math.max(1, records - job.checked),
    problems,
    stampCounts: stamps,
    canUndo: undo !== undefined,
    canRedo: redo !== undefined,
    may,
  };
}

const countsOf = oncePerProcess(
  'jobs.counts',
  () => new Memo<Awaited<ReturnType<typeof countRows>>>(500, 10 * 60_000),
);

const recordsOf = oncePerProcess(
  'jobs.records',
  () => new Memo<{ count: number }>(500, 10 * 60_000),
);

/** Records of a list. Only revisions add or remove them. */
async function recordCount(db: Database, { id, revision }: { id: number; revision: number }) {
  const { count } = await recordsOf.get(db, `${id} ${revision}`, async () => ({
    count: await countOf(db, id),
  }));
  return count;
}

/** Records from which on counting takes so long that a count of a moment ago will do. */
const manyRecords = 20_000;

/**
 * The state counts of a job's records. They are counted again only if verdicts or prints changed.
 * While a long list is being checked, the counts are those of the last request.
 */
async function rowCounts(db: Database, id: number) {
  const state = await stateOf(db, id);
  const judged = isJudged(state);
  return countsOf.about(
    db,
    {
      thing: `${id}`,
      name: JSON.stringify([id, state]),
      willDo: (last) => !judged && last.all >= manyRecords,
    },
    () => countRows(db, id),
  );
}

function countRows(db: Database, id: number) {
  const n = (condition: ReturnType<typeof sql<boolean>>) =>
    sql<number>`count(*) filter (where ${condition})`;
  return db
    .selectFrom('job_rows')
    .select([
      sql<number>`count(*)`.as('all'),
      n(sql`overall = 'ready'`).as('ready'),
      n(sql`overall = 'look'`).as('look'),
      n(sql`overall = 'out'`).as('out'),
      n(sql`records_mark <> 'ready'`).as('records'),
      n(sql`stamps_mark = 'look'`).as('stamps'),
      n(sql`stamps_mark = 'out'`).as('stampsOut'),
      n(sql`drawn`).as('drawn'),
      n(sql`piece_mark = 'look'`).as('piece'),
      n(sql`overall = 'ready' and run_id is null`).as('new'),
      n(sql`codes = 'ready'`).as('codesReady'),
      n(sql`codes = 'ready' and run_id is null`).as('codesNew'),
      n(sql`printed <> content`).as('changed'),
    ])
    .where('job_id', '=', id)
    .executeTakeFirstOrThrow();
}

/** Rows from one known place of a long list to the next. */
const anchorEvery = 1000;
const anchors = oncePerProcess('jobs.anchors', () => new Memo<number[]>(200, 10 * 60_000));

/**
 * From which position a window is read, and how many rows are passed over from there: never more
 * than a few, however far down it is.
 */
async function anchorOf(
  db: Database,
  jobId: number,
  filter: Filter,
  offset: number,
): Promise<{ from: number; skip: number }> {
  if (offset < anchorEvery) return { from: -1, skip: offset };
  const state = await stateOf(db, jobId);
  // while everything changes, counting through is quicker than finding places that hold for once
  if (!isJudged(state)) return { from: -1, skip: offset };
  const places = await anchors.get(db, JSON.stringify([jobId, state, filter]), async () => {
    const { rows } = await sql<{ position: number }>`
      select position from (
        select position, row_number() over (order by position) - 1 as row from job_rows
        where job_id = ${jobId} ${filter === 'all' ? sql`` : sql`and overall = ${filter}`}
      ) numbered where row % ${anchorEvery} = 0 order by position`.execute(db);
    return rows.map((r) => r.position);
  });
  const at = Math.min(places.length - 1, Math.floor(offset / anchorEvery));
  return at < 0
    ? { from: -1, skip: offset }
    : { from: places[at]!, skip: offset - at * anchorEvery };
}

/** A window of a job's records as the ledger shows them, and how many there are in all. */
export async function ledgerRows(
  db: Database,
  jobId: number,
  { offset, limit, reveal, ...view }: z.output<typeof rowsQuerySchema>,
  may: Right = 'editor',
): Promise<LedgerWindow> {
  if (reveal && !includes(may, 'editor'))
    throw new Refusal(
      'Only people who can edit the list can show secrets. Ask an administrator for that right.',
      403,
    );
  let ids: readonly number[];
  let total: number;
  if (isPlain(view) && view.filter !== 'new' && view.filter !== 'changed') {
    // usually every record is shown, and the index alone finds the window
    let base = db.selectFrom('job_rows').where('job_id', '=', jobId);
    total = (await rowCounts(db, jobId))[view.filter];
    if (view.filter !== 'all') base = base.where('overall', '=', view.filter);
    const { from, skip } = await anchorOf(db, jobId, view.filter, offset);
    const window = await base
      .select('record_id')
      .where('position', '>=', from)
      .orderBy('position')
      .offset(skip)
      .limit(limit)
      .execute();
    ids = window.map((r) => r.record_id);
  } else {
    const hidden = await hiddenFrom(db, jobId, may);
    const count = (await rowCounts(db, jobId)).all;
    const first =
      offset === 0 ? await firstOf(db, jobId, view, { count, limit, hidden }) : undefined;
    const all = first ?? (await orderOf(db, jobId, view, hidden));
    total = first ? count : all.length;
    ids = all.slice(offset, offset + limit);
  }
  const rows = await db
    .selectFrom('job_rows')
    .innerJoin('records', 'records.id', 'job_rows.record_id')
    .select([
      'records.id',
      'records.position',
      'records.values',
      'records_mark',
      'stamps_mark',
      'piece_mark',
      'overall',
      'run_mark',
      'run_page',
      'run_place',
      'notes',
    ])
    .where('job_rows.job_id', '=', jobId)
    .where(oneOf('job_rows.record_id', ids))
    .execute();
  const byId = new Map(rows.map((row) => [row.id, row]));
  const { columns, stamps } = await listOfJob(db, jobId);
  const scans = columns.some(holdsLinks) ? await scansOf(db, ids) : undefined;
  const proves = stamps.some(
    (s) =>
      s.proofKey !== undefined ||
      (!includes(may, 'editor') && purposeOf(s.does).hides !== undefined),
  );
  const asked = askedColumns(reveal);
  return {
    total,
    rows: ids.flatMap((id) => {
      const row = byId.get(id);
      if (!row) return [];
      return {
        id,
        number: row.position + 1,
        values: {
          ...maskedValues(columns, row.id, row.values, asked),
          ...(proves ? recordToken(row.id, row.values) : {}),
        },
        notes: row.notes.map((note) => ({
          ...note,
          text: maskedText(columns, row.values, note.text),
        })),
        page: row.run_page,
        place: row.run_place,
        scans: scans?.get(id) ?? null,
        marks: {
          records: row.records_mark,
          stamps: row.stamps_mark,
          piece: row.piece_mark,
          overall: row.overall,
          run: row.run_mark,
        },
      };
    }),
  };
}

/** How often the links of records were scanned, for records with links. */
async function scansOf(db: Database, records: readonly number[]): Promise<Map<number, number>> {
  const { rows } = await sql<{ record_id: number; scans: number }>`
    select record_id, sum(scans)::int as scans from links
      where record_id = any(${[...records]}::bigint[]) group by record_id`.execute(db);
  return new Map(rows.map((row) => [row.record_id, row.scans]));
}

/** Columns that a person may neither see nor search, since an answer would reveal their values. */
export async function hiddenFrom(
  db: Database,
  jobId: number,
  may: Right,
): Promise<readonly string[]> {
  if (includes(may, 'editor')) return [];
  return secretsOf((await listOfJob(db, jobId)).columns).map((column) => column.id);
}

const listOfJob = (db: Database, jobId: number) =>
  db
    .selectFrom('lists')
    .innerJoin('jobs', 'jobs.list_id', 'lists.id')
    .select(['lists.id', 'lists.columns', 'lists.stamps'])
    .where('jobs.id', '=', jobId)
    .executeTakeFirstOrThrow();

/**
 * Index of the record that is the odd one in some way, within the view; null when there is none.
 */
export async function jump(
  db: Database,
  jobId: number,
  { to, record, after = -1, ...view }: z.output<typeof jumpSchema>,
  may: Right = 'editor',
): Promise<number | null> {
  const ids = await orderOf(db, jobId, view, await hiddenFrom(db, jobId, may));
  if (to === 'record') {
    const at = ids.indexOf(record ?? -1);
    return at < 0 ? null : at;
  }
  const { id: list, columns } = await listOfJob(db, jobId);
  const name = nameColumn(columns) ?? keyColumn(columns) ?? columns[0];
  const value = sql<string>`coalesce(records.values->>${name?.id ?? ''}, '')`;
  const order = new Map(ids.map((id, i) => [id, i]));
  const next = async (found: Promise<{ id: number }[]>) => {
    const places = (await found).flatMap(({ id }) => order.get(id) ?? []).sort((a, b) => a - b);
    return places.find((place) => place > after) ?? places[0] ?? null;
  };
  // for a whole list the database needs no record numbers
  const whole = isPlain({ ...view, sort: undefined }) && view.filter === 'all';
  const among = db
    .selectFrom('records')
    .select('records.id')
    .where((e) => (whole ? e('records.list_id', '=', list) : oneOf('records.id', ids)));
  const filled = among.where(sql<boolean>`length(${value}) > 0`);
  if (to === 'longest')
    return next(
      filled
        .orderBy(sql`length(${value})`, 'desc')
        .orderBy('position')
        .limit(1)
        .execute(),
    );
  if (to === 'shortest')
    return next(
      filled
        .orderBy(sql`length(${value})`)
        .orderBy('position')
        .limit(1)
        .execute(),
    );
  if (to === 'scripts')
    return next(among.where(sql<boolean>`${value} ~ '[^\u0001-\u024f\u2018-\u201d]'`).execute());
  return next(
    among
      .innerJoin('job_rows', 'job_rows.record_id', 'records.id')
      .where('job_rows.job_id', '=', jobId)
      .where('job_rows.piece_mark', '=', 'look')
      .execute(),
  );
}

/** The number of a re-read that has been compared and waits to be looked at. */
async function waitingReread(db: Database, listId: number): Promise<number | null> {
  const waiting = await db
    .selectFrom('intakes')
    .select('id')
    .where('list_id', '=', listId)
    .where('state', 'in', ['waiting', 'read'])
    .orderBy('id', 'desc')
    .limit(1)
    .executeTakeFirst();
  return waiting?.id ?? null;
}

async function jobCount(db: Database, listId: number): Promise<number> {
  const { count } = await db
    .selectFrom('jobs')
    .select((e) => e.fn.countAll<number>().as('count'))
    .where('list_id', '=', listId)
    .executeTakeFirstOrThrow();
  return count;
}

async function revisionCount(db: Database, listId: number): Promise<number> {
  const { count } = await db
    .selectFrom('revisions')
    .select((e) => e.fn.countAll<number>().as('count'))
    .where('list_id', '=', listId)
    .where('kind', 'not in', ['undo', 'redo'])
    .executeTakeFirstOrThrow();
  return count;
}

const marksOf = oncePerProcess('jobs.marks', () => new Memo<MarkCount[]>(500, 10 * 60_000));
interface MarkCount {
  what: string;
  mark: Mark;
  n: number;
}

/**
 * How many records each stamp fits, does not fit, and has no content for; counted like `rowCounts`.
 */
async function stampCounts(
  db: Database,
  jobId: number,
  { id: listId, stamps }: { id: number; stamps: readonly Stamp[] },
): Promise<Record<string, Record<Mark, number>>> {
  const state = await stateOf(db, jobId);
  const judged = isJudged(state);
  const rows = await marksOf.about(
    db,
    {
      thing: `${listId}`,
      name: JSON.stringify([listId, state]),
      willDo: (last) => !judged && last.reduce((sum, { n }) => sum + n, 0) >= manyRecords,
    },
    () =>
      db
        .selectFrom('prints')
        .select((e) => ['what', 'mark', e.fn.countAll<number>().as('n')])
        .where('list_id', '=', listId)
        .where('what', 'like', 'stamp:%')
        .groupBy(['what', 'mark'])
        .execute(),
  );
  return Object.fromEntries(
    stamps.map((stamp) => {
      const count = (mark: Mark) =>
        rows.find((r) => r.what === `stamp:${stamp.id}` && r.mark === mark)?.n ?? 0;
      return [stamp.id, { ready: count('ready'), look: count('look'), out: count('out') }];
    }),
  );
}

/**
 * What has to be checked again after a job's document changed: its piece, or the list of this
 * number.
 */
export type ToJudge = 'piece' | number | undefined;

/** Whether the person who changes a job may also change its list, to which the stamps belong. */
export interface MayList {
  mayList: boolean;
}

/**
 * Stores a new version of a job's document. Its stamps belong to the list and change in every job
 * of it. Refused if somebody else has changed it since.
 */
export async function changeJob(
  db: Database,
  id: number,
  change: z.infer<typeof jobChangeSchema>,
  actor: string,
  may: MayList = { mayList: true },
): Promise<void> {
  const judge = await db
    .transaction()
    .execute((tx) => changeJobIn(tx, id, change, actor, 'change', may));
  await afterChange(db, id, judge, change.seen);
}

/**
 * Checks what a change of a job's document concerns, after the commit.
 * @param seen the records on the screen of the person who made it, which come first
 */
export async function afterChange(
  db: Database,
  id: number,
  judge: ToJudge,
  seen: readonly number[] = [],
): Promise<void> {
  if (judge === 'piece') await rejudgePiece(db, id, seen);
  else if (judge !== undefined) await rejudgeList(db, judge, seen);
}

/**
 * Holds a job and its list until the transaction ends: the list first, as everywhere, so that two
 * jobs of it never wait for each other.
 */
export async function lockJob(tx: Database, id: number) {
  const { list_id } = await tx
    .selectFrom('jobs')
    .select('list_id')
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const list = await tx
    .selectFrom('lists')
    .select(['stamps', 'columns'])
    .where('id', '=', list_id)
    .forUpdate()
    .executeTakeFirstOrThrow();
  const job = await tx
    .selectFrom('jobs')
    .selectAll()
    .where('id', '=', id)
    .forUpdate()
    .executeTakeFirstOrThrow();
  return { job, list };
}

/** Like `changeJob`, in the caller's transaction; call `afterChange` after the commit. */
export async function changeJobIn(
  tx: Database,
  id: number,
  change: z.infer<typeof jobChangeSchema>,
  actor: string,
  kind: 'change' | 'undo' | 'redo' = 'change',
  { mayList }: MayList = { mayList: true },
): Promise<ToJudge> {
  const { job, list } = await lockJob(tx, id);
  if (job.version !== change.version)
    throw new Refusal(
      'Someone changed this job in another window. You now see their version. Make your change again.',
      409,
    );
  const { stamps: given = list.stamps, ...own } = change.document ?? {
    ...readJob(job.document),
    stamps: list.stamps,
  };
  const stamps = given.map((stamp) => stampWithSealedKey(withoutSecretText(stamp, list.columns)));
  const version = job.version + 1;
  await tx
    .updateTable('jobs')
    .set({
      document: writeJob(own),
      version,
      name: change.name ?? job.name,
      updated_at: clock.date(),
    })
    .where('id', '=', id)
    .execute();
  await tx
    .insertInto('job_versions')
    .values({
      job_id: id,
      version,
      document: writeVersion({ stamps, ...own }),
      created_by: actor,
      kind: change.document ? kind : 'name',
    })
    .execute();
  if (!change.document) return undefined;
  await changedJob(tx, id, job.list_id);
  if (kind === 'change') await dropUndone(tx, job.list_id);
  if (JSON.stringify(stamps) === JSON.stringify(list.stamps)) return 'piece' as const;
  const others = await tx
    .selectFrom('jobs')
    .select(['name', 'document'])
    .where('list_id', '=', job.list_id)
    .where('id', '<>', id)
    .execute();
  if (!mayList && others.length > 0)
    throw new Refusal(
      `This job is shared with you, but its list is not, and other jobs use the same stamps: ${others.map((o) => o.name).join(', ')}. Nothing was changed. Copy the job to change its stamps.`,
      403,
    );
  for (const other of others) {
    const { piece } = readJob(other.document);
    const lost = onGround(piece)
      .stampsOn(piece)
      .find((id) => !stamps.some((s) => s.id === id));
    const stamp = list.stamps.find((s) => s.id === lost);
    if (stamp)
      throw new Refusal(
        `The job ${other.name} has ${stamp.name} on its piece. Remove it there first.`,
      );
  }
  await tx
    .updateTable('lists')
    .set({ stamps: JSON.stringify(stamps) })
    .where('id', '=', job.list_id)
    .execute();
  await changed(tx, job.list_id);
  // the other jobs of the list have a new document too, and their windows must learn of it
  await tx
    .updateTable('jobs')
    .set((e) => ({ version: e('version', '+', 1) }))
    .where('list_id', '=', job.list_id)
    .where('id', '<>', id)
    .execute();
  return job.list_id;
}

/** Makes another job of a list. */
export async function addJob(
  db: Database,
  listId: number,
  { name }: z.infer<typeof newJobSchema>,
  actor: string,
): Promise<number> {
  const { columns } = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  const id = await db.transaction().execute((tx) => createJob(tx, name, listId, columns, actor));
  await rejudgePiece(db, id);
  return id;
}

/** Throws a job away, and its list with the last job of it. */
export async function removeJob(db: Database, id: number): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { list_id: list } = await tx
      .selectFrom('jobs')
      .select('list_id')
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    // two jobs that are removed at once come one after the other: the last one takes the list along
    await tx.selectFrom('lists').select('id').where('id', '=', list).forUpdate().execute();
    await tx.deleteFrom('jobs').where('id', '=', id).execute();
    if ((await jobCount(tx, list)) === 0) await removeList(tx, list);
  });
}

/** The list of a job. @throws NoResultError if there is no such job */
export async function listIdOf(db: Database, id: number): Promise<number> {
  const { list_id } = await db
    .selectFrom('jobs')
    .select('list_id')
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  return list_id;
}
