import { sql } from 'kysely';
import { z } from 'zod';
import { keyColumn, nameColumn } from '../core/records/columns';
import type { Mark } from '../core/run/judge';
import type { Database } from './db';
import { jobDocumentSchema } from '../core/job/document';
import { filters, type Filter, type JobSummary, type JobView, type LedgerRow } from '../core/job/views';
import { Refusal } from './http';
import { rejudge } from './judge';

export const rowsQuerySchema = z.object({
  filter: z.enum(filters).default('all'),
  q: z.string().max(200).default(''),
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(500).default(100),
});

export async function listJobs(db: Database): Promise<JobSummary[]> {
  const jobs = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select(['jobs.id', 'jobs.name', 'lists.name as list', 'jobs.updated_at'])
    .orderBy('jobs.updated_at', 'desc')
    .orderBy('jobs.id', 'desc')
    .execute();
  const counts = await db
    .selectFrom('job_rows')
    .select(['job_id', 'overall', (e) => e.fn.countAll<number>().as('n')])
    .groupBy(['job_id', 'overall'])
    .execute();
  const runs = await db
    .selectFrom('runs')
    .distinctOn('job_id')
    .select(['job_id', 'name', 'state', 'codes_failed'])
    .orderBy('job_id')
    .orderBy('id', 'desc')
    .execute();
  return jobs.map((job) => {
    const count = (mark: Mark) => counts.find((c) => c.job_id === job.id && c.overall === mark)?.n ?? 0;
    const run = runs.find((r) => r.job_id === job.id);
    const [ready, look, out] = [count('ready'), count('look'), count('out')];
    return {
      id: job.id,
      name: job.name,
      list: job.list,
      records: ready + look + out,
      ready,
      look,
      out,
      updated: job.updated_at.toISOString(),
      lastRun: run && { name: run.name, state: run.state, failed: run.codes_failed },
    };
  });
}

export async function viewJob(db: Database, id: number): Promise<JobView> {
  const job = await db.selectFrom('jobs').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
  const list = await db.selectFrom('lists').selectAll().where('id', '=', job.list_id).executeTakeFirstOrThrow();
  const n = (condition: ReturnType<typeof sql<boolean>>) => sql<number>`count(*) filter (where ${condition})`;
  const counts = await db
    .selectFrom('job_rows')
    .select([
      sql<number>`count(*)`.as('all'),
      n(sql`overall = 'ready'`).as('ready'),
      n(sql`overall = 'look'`).as('look'),
      n(sql`overall = 'out'`).as('out'),
      n(sql`records_mark <> 'ready'`).as('records'),
      n(sql`stamps_mark = 'look'`).as('stamps'),
      n(sql`stamps_mark = 'out'`).as('stampsOut'),
      n(sql`piece_mark = 'look'`).as('piece'),
    ])
    .where('job_id', '=', id)
    .executeTakeFirstOrThrow();
  const changes = await db
    .selectFrom('changes')
    .select([sql<boolean>`bool_or(not undone)`.as('undo'), sql<boolean>`bool_or(undone)`.as('redo')])
    .where('list_id', '=', list.id)
    .executeTakeFirst();
  const { all, ready, look, out, ...bands } = counts;
  return {
    id,
    name: job.name,
    version: job.version,
    document: job.document,
    list: {
      id: list.id,
      name: list.name,
      source: list.source,
      columns: list.columns,
      revision: list.revision,
      updated: list.updated_at.toISOString(),
    },
    counts: { all, ready, look, out },
    bands,
    judging: job.judging,
    canUndo: changes?.undo ?? false,
    canRedo: changes?.redo ?? false,
  };
}

const escapeLike = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

function filtered(db: Database, jobId: number, filter: Filter, q: string) {
  let query = db.selectFrom('job_rows').where('job_rows.job_id', '=', jobId);
  if (filter !== 'all') query = query.where('job_rows.overall', '=', filter);
  const words = q.trim();
  if (words === '') return query;
  const like = `%${escapeLike(words)}%`;
  // the whole text first, which is quick; then the cells, so that neither headings nor quotes of JSON are found
  const roughly = /["\\]/.test(words) ? sql`true` : sql`r.values::text ilike ${like}`;
  return query.where(
    sql<boolean>`exists (select 1 from records r where r.id = job_rows.record_id and ${roughly} and exists (select 1 from json_each_text(r.values) cell where cell.value ilike ${like}))`,
  );
}

/** A window of a job's records as the ledger shows them, and how many there are in all. */
export async function ledgerRows(
  db: Database,
  jobId: number,
  { filter, q, offset, limit }: z.infer<typeof rowsQuerySchema>,
): Promise<{ total: number; rows: LedgerRow[] }> {
  const base = filtered(db, jobId, filter, q);
  const { total } = await base.select((e) => e.fn.countAll<number>().as('total')).executeTakeFirstOrThrow();
  const window = base.select('job_rows.record_id').orderBy('job_rows.position').offset(offset).limit(limit);
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
    .where('job_rows.record_id', 'in', window)
    .orderBy('job_rows.position')
    .execute();
  return {
    total,
    rows: rows.map((row) => ({
      id: row.id,
      number: row.position + 1,
      values: row.values,
      notes: row.notes,
      page: row.run_page,
      place: row.run_place,
      marks: { records: row.records_mark, stamps: row.stamps_mark, piece: row.piece_mark, overall: row.overall, run: row.run_mark },
    })),
  };
}

export const jumpSchema = z.object({
  to: z.enum(['longest', 'shortest', 'scripts', 'over']),
  filter: z.enum(filters).default('all'),
  q: z.string().max(200).default(''),
});

/** Index of the record that is the odd one in some way, within the filter; null when there is none. */
export async function jump(db: Database, jobId: number, { to, filter, q }: z.infer<typeof jumpSchema>): Promise<number | null> {
  const { columns } = await db
    .selectFrom('lists')
    .innerJoin('jobs', 'jobs.list_id', 'lists.id')
    .select('columns')
    .where('jobs.id', '=', jobId)
    .executeTakeFirstOrThrow();
  const name = nameColumn(columns) ?? keyColumn(columns) ?? columns[0];
  const value = sql<string>`coalesce(records.values->>${name.id}, '')`;
  const ranked = filtered(db, jobId, filter, q)
    .innerJoin('records', 'records.id', 'job_rows.record_id')
    .select([
      sql<number>`row_number() over (order by records.position) - 1`.as('index'),
      sql<number>`length(${value})`.as('length'),
      sql<boolean>`${value} ~ '[^\u0001-\u024f\u2018-\u201d]'`.as('scripts'),
      sql<boolean>`job_rows.piece_mark = 'look'`.as('over'),
    ])
    .as('ranked');
  let query = db.selectFrom(ranked).select('index').limit(1);
  if (to === 'longest') query = query.orderBy('length', 'desc');
  else if (to === 'shortest') query = query.where('length', '>', 0).orderBy('length');
  else query = query.where(to, '=', true).orderBy('index');
  return (await query.executeTakeFirst())?.index ?? null;
}

export const jobChangeSchema = z.object({
  version: z.number().int(),
  document: jobDocumentSchema.optional(),
  name: z.string().trim().min(1).max(120).optional(),
});

/** Keeps a new version of a job's document. Refused when someone else has changed it since. */
export async function changeJob(db: Database, id: number, change: z.infer<typeof jobChangeSchema>, actor: string): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const job = await tx
      .selectFrom('jobs')
      .select(['version', 'document', 'name'])
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirstOrThrow();
    if (job.version !== change.version)
      throw new Refusal(
        'This job was changed in another window just now. What you see has been brought up to date; make your change again.',
        409,
      );
    const document = JSON.stringify(change.document ?? job.document);
    const version = job.version + 1;
    await tx
      .updateTable('jobs')
      .set({ document, version, name: change.name ?? job.name, updated_at: new Date() })
      .where('id', '=', id)
      .execute();
    await tx.insertInto('job_versions').values({ job_id: id, version, document, created_by: actor }).execute();
  });
  if (change.document) await rejudge(db, id);
}

export const rolesSchema = z.object({
  columns: z.array(z.object({ id: z.string(), role: z.enum(['key', 'name', 'email', 'address', 'product', 'text']) })).max(1000),
});

/** Says anew what some columns are for; every job of the list is judged again. */
export async function changeRoles(db: Database, listId: number, { columns }: z.infer<typeof rolesSchema>): Promise<void> {
  const list = await db.selectFrom('lists').select('columns').where('id', '=', listId).executeTakeFirstOrThrow();
  const next = list.columns.map((column) => ({ ...column, role: columns.find((c) => c.id === column.id)?.role ?? column.role }));
  await db
    .updateTable('lists')
    .set({ columns: JSON.stringify(next) })
    .where('id', '=', listId)
    .execute();
  const jobs = await db.selectFrom('jobs').select('id').where('list_id', '=', listId).execute();
  for (const job of jobs) await rejudge(db, job.id);
}
