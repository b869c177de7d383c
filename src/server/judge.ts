import { sql } from 'kysely';
import { fontsForPiece } from '../core/piece/piece';
import { keyColumn, type Column, type Values } from '../core/records/columns';
import { judgeRow } from '../core/run/judge';
import type { Database } from './db';
import type { JobDocument } from '../core/job/document';
import { fontBook } from './fonts';
import { enqueue } from './queue';

/** Lists up to this many records are judged at once; longer ones in the background, with progress. */
const atOnce = 3000;
const batch = 2000;

interface Judgeable {
  id: number;
  list_id: number;
  document: JobDocument;
}

/** Judges every record of a job again after its document or its list changed. */
export async function rejudge(db: Database, jobId: number): Promise<void> {
  const job = await db.selectFrom('jobs').select(['id', 'list_id', 'document']).where('id', '=', jobId).executeTakeFirstOrThrow();
  const { count } = await db
    .selectFrom('records')
    .select((e) => e.fn.countAll<number>().as('count'))
    .where('list_id', '=', job.list_id)
    .executeTakeFirstOrThrow();
  if (count <= atOnce) return judgeAll(db, job);
  await db.updateTable('jobs').set({ judging: count }).where('id', '=', jobId).execute();
  await enqueue(db, 'job.judge', { job: jobId }, { key: `judge-${jobId}` });
}

/** The worker's part of `rejudge`. */
export async function judgeInBackground(db: Database, jobId: number): Promise<void> {
  const job = await db.selectFrom('jobs').select(['id', 'list_id', 'document']).where('id', '=', jobId).executeTakeFirst();
  if (job) await judgeAll(db, job);
}

async function judgeAll(db: Database, job: Judgeable): Promise<void> {
  const columns = await columnsOf(db, job.list_id);
  const repeated = await repeatedKeys(db, job.list_id, columns);
  let after = -1;
  for (;;) {
    const records = await db
      .selectFrom('records')
      .select(['id', 'position', 'values'])
      .where('list_id', '=', job.list_id)
      .where('position', '>', after)
      .orderBy('position')
      .limit(batch)
      .execute();
    if (records.length > 0) await store(db, job, columns, records, repeated);
    if (records.length < batch) break;
    after = records.at(-1)!.position;
    await db
      .updateTable('jobs')
      .set((e) => ({ judging: sql<number>`greatest(0, ${e.ref('judging')} - ${batch})` }))
      .where('id', '=', job.id)
      .execute();
  }
  await db.updateTable('jobs').set({ judging: 0 }).where('id', '=', job.id).execute();
}

/** Judges some records again in every job of their list, and those that share a key with them. */
export async function judgeRecords(db: Database, listId: number, ids: readonly number[], keys: readonly string[]): Promise<void> {
  const columns = await columnsOf(db, listId);
  const key = keyColumn(columns);
  const repeated = await repeatedKeys(db, listId, columns);
  const records = await db
    .selectFrom('records')
    .select(['id', 'position', 'values'])
    .where('list_id', '=', listId)
    .where((e) =>
      e.or([e('id', 'in', [...ids, -1]), ...(key && keys.length ? [e(sql<string>`trim(values->>${key.id})`, 'in', [...keys])] : [])]),
    )
    .execute();
  const jobs = await db.selectFrom('jobs').select(['id', 'list_id', 'document']).where('list_id', '=', listId).execute();
  for (const job of jobs) await store(db, job, columns, records, repeated);
}

async function columnsOf(db: Database, listId: number): Promise<Column[]> {
  return (await db.selectFrom('lists').select('columns').where('id', '=', listId).executeTakeFirstOrThrow()).columns;
}

async function repeatedKeys(db: Database, listId: number, columns: readonly Column[]): Promise<Set<string>> {
  const key = keyColumn(columns);
  if (!key) return new Set();
  const rows = await db
    .selectFrom('records')
    .select(sql<string>`trim(values->>${key.id})`.as('key'))
    .where('list_id', '=', listId)
    .groupBy(sql`1`)
    .having((e) => e.fn.countAll<number>(), '>', 1)
    .execute();
  return new Set(rows.map((row) => row.key).filter(Boolean));
}

async function store(
  db: Database,
  job: Judgeable,
  columns: readonly Column[],
  records: readonly { id: number; position: number; values: Values }[],
  repeated: ReadonlySet<string>,
): Promise<void> {
  if (records.length === 0) return;
  const { document } = job;
  const fonts = fontBook(
    fontsForPiece(
      document.piece,
      records.map((r) => r.values),
    ),
  );
  const key = keyColumn(columns);
  const verdicts = records.map((record) =>
    judgeRow(document, columns, record.values, key !== undefined && repeated.has((record.values[key.id] ?? '').trim()), fonts),
  );
  await sql`
    insert into job_rows (job_id, record_id, position, records_mark, stamps_mark, piece_mark, overall, notes)
    select ${job.id}::int, * from unnest(
      ${records.map((r) => r.id)}::bigint[], ${records.map((r) => r.position)}::int[], ${verdicts.map((v) => v.records)}::text[], ${verdicts.map((v) => v.stamps)}::text[],
      ${verdicts.map((v) => v.piece)}::text[], ${verdicts.map((v) => v.overall)}::text[], ${verdicts.map((v) => JSON.stringify(v.notes))}::json[])
    on conflict (job_id, record_id) do update set position = excluded.position, records_mark = excluded.records_mark, stamps_mark = excluded.stamps_mark,
      piece_mark = excluded.piece_mark, overall = excluded.overall, notes = excluded.notes`.execute(db);
}
