import { renewJobCard, renewListCard } from '../judging';
import { sql } from 'kysely';
import { type Database, enqueue, log } from '../platform';
import { forgetOldTries, forgetTheGone } from '../access';
import { sweepFolders } from '../documents';
import { endIntake } from '../sources';
import { endRun } from '../runs';

type EndTask = (db: Database, name: string, payload: unknown, why: string) => Promise<void>;

/**
 * Runs once a minute by the queue's schedule: nothing stays "waiting", "taking" or "running"
 * without a worker, and no working folder stays.
 */
export async function tidy(db: Database, endTask: EndTask): Promise<void> {
  await freeTheLost(db);
  await endTheExhausted(db, endTask);
  await endTheForgotten(db);
  await renewTheStale(db);
  await sweepFolders();
  await forgetTheGone(db);
  await forgetOldTries(db);
}

/**
 * Tasks locked by a worker that is not known any more: it ended before anybody could note that it
 * was there.
 */
async function freeTheLost(db: Database): Promise<void> {
  const lost = await sql<{ locked_by: string }>`
    select distinct locked_by from graphile_worker.jobs
    where locked_at < now() - interval '1 minute'
      and locked_by not in (select id from workers)`.execute(db);
  const ids = lost.rows.map((r) => r.locked_by);
  if (ids.length > 0)
    await sql`select graphile_worker.force_unlock_workers(${ids}::text[])`.execute(db);
}

/** Tasks without a further try. */
async function endTheExhausted(db: Database, endTask: EndTask): Promise<void> {
  const jobs = await sql<{ id: string; name: string; payload: unknown }>`
    select j.id, t.identifier as name, j.payload from graphile_worker._private_jobs j
      join graphile_worker._private_tasks t on t.id = j.task_id
    where j.attempts >= j.max_attempts and j.locked_at is null limit 500`.execute(db);
  for (const { id, name, payload } of jobs.rows) {
    log.error({ task: name, payload }, 'a task has no tries left');
    await endTask(db, name, payload, 'it was tried several times; the log says what stopped it');
    await sql`select graphile_worker.complete_jobs(array[${id}::bigint])`.execute(db);
  }
}

const tasksOf = (what: 'intake' | 'run', id: ReturnType<typeof sql.ref>) => sql<boolean>`exists (
  select from graphile_worker._private_jobs j where (j.payload->>${what})::int = ${id})`;

/** Intakes and runs that wait for a task which is not there. */
async function endTheForgotten(db: Database): Promise<void> {
  const intakes = await db
    .selectFrom('intakes')
    .select('id')
    .where('state', 'in', ['waiting', 'taking'])
    .where('created_at', '<', sql<Date>`now() - interval '1 minute'`)
    .where((e) => e.not(tasksOf('intake', sql.ref('intakes.id'))))
    .execute();
  for (const { id } of intakes) await endIntake(db, id, 'nothing is left that could continue it');
  const runs = await db
    .selectFrom('runs')
    .select('id')
    .where('state', 'in', ['waiting', 'running'])
    .where((e) => e.not(tasksOf('run', sql.ref('runs.id'))))
    .execute();
  for (const { id } of runs) await endRun(db, id, 'nothing is left that could continue it');
}

/** Lists and jobs whose verdicts are out of date and for which no task is queued. */
async function renewTheStale(db: Database): Promise<void> {
  const idle = (what: string, id: string) => sql<boolean>`not exists (
    select from graphile_worker._private_jobs j where (j.payload->>${what})::int = ${sql.ref(id)})`;
  const lists = await db
    .selectFrom('lists')
    .select('id')
    .whereRef('judged', '<', 'changes')
    .where(idle('list', 'lists.id'))
    .execute();
  for (const { id } of lists)
    await enqueue(
      db,
      renewListCard,
      { list: id },
      { key: `renew-list-${id}`, queue: `list-${id}` },
    );
  const jobs = await db
    .selectFrom('jobs')
    .select(['id', 'list_id'])
    .whereRef('judged', '<', 'changes')
    .where(idle('job', 'jobs.id'))
    .execute();
  for (const { id, list_id } of jobs)
    await enqueue(
      db,
      renewJobCard,
      { job: id },
      { key: `renew-job-${id}`, queue: `list-${list_id}` },
    );
}
