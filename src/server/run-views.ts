import type { Database } from './db';
import type { ComparedRuns, RunView } from '../core/job/views';
import { outputWords } from '../core/run/outputs';
import { sql } from 'kysely';
import { saysSecret } from '../core/payload/secrets';

export async function listRuns(db: Database, jobId: number): Promise<RunView[]> {
  const ids = await db.selectFrom('runs').select('id').where('job_id', '=', jobId).orderBy('id', 'desc').limit(30).execute();
  return Promise.all(ids.map(({ id }) => viewRun(db, id)));
}

export async function viewRun(db: Database, id: number): Promise<RunView> {
  const run = await db.selectFrom('runs').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
  const files = await db.selectFrom('files').select(['id', 'name', 'size']).where('run_id', '=', id).orderBy('id').execute();
  const failures =
    run.codes_failed === 0
      ? []
      : await db
          .selectFrom('receipts')
          .select(['record_id as record', 'title', 'key', 'page', 'place', 'result', 'read_text as readAs'])
          .where('run_id', '=', id)
          .where('result', '<>', 'read')
          .orderBy('seq')
          .limit(50)
          .execute();
  return {
    id,
    name: run.name,
    state: run.state,
    pieces: run.pieces,
    made: run.pieces_made,
    sheets: run.sheets,
    codes: run.codes,
    read: run.codes_read,
    failed: run.codes_failed,
    leftOut: run.left_out,
    makes: outputWords[run.frozen.output?.kind ?? 'pdf'].name,
    kind: run.kind,
    again: run.frozen.again ?? null,
    error: run.error,
    created: run.created_at.toISOString(),
    started: run.started_at?.toISOString() ?? null,
    finished: run.finished_at?.toISOString() ?? null,
    files,
    failures,
  };
}

/** Compares what two runs of one job printed, record by record. Payloads that hold secrets are told apart, and not shown. */
export async function compareRuns(db: Database, first: number, second: number): Promise<ComparedRuns> {
  const only = async (here: number, there: number) =>
    (
      await sql<{ title: string; key: string }>`
        select distinct on (a.record_id) a.title, a.key from receipts a where a.run_id = ${here}
          and not exists (select 1 from receipts b where b.run_id = ${there} and b.record_id = a.record_id) order by a.record_id limit 200`.execute(
        db,
      )
    ).rows;
  const differ = await sql<{ title: string; key: string; stamp: string; first: string; second: string }>`
    select distinct a.record_id, b.title, b.key, a.stamp, a.payload as first, b.payload as second from receipts a join receipts b
      on b.record_id = a.record_id and b.stamp = a.stamp and b.payload <> a.payload
    where a.run_id = ${first} and b.run_id = ${second} order by a.record_id limit 200`.execute(db);
  const both = await sql<{ n: number }>`
    select count(distinct a.record_id) as n from receipts a join receipts b on b.record_id = a.record_id where a.run_id = ${first} and b.run_id = ${second}`.execute(
    db,
  );
  const { frozen } = await db.selectFrom('runs').select('frozen').where('id', '=', second).executeTakeFirstOrThrow();
  return {
    both: both.rows[0]?.n ?? 0,
    onlyFirst: await only(first, second),
    onlySecond: await only(second, first),
    differ: differ.rows.map((row) => {
      const stamp = frozen.stamps.find((s) => s.id === row.stamp);
      const hidden = stamp && saysSecret(stamp, frozen.columns);
      return {
        ...row,
        stamp: stamp?.name ?? row.stamp,
        first: hidden ? 'a secret' : row.first,
        second: hidden ? 'another one' : row.second,
      };
    }),
  };
}
