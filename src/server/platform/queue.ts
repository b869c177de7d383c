import { sql, type Kysely, type Transaction } from 'kysely';
import type { Schema } from './db/schema';

/** What the worker processes do. Each payload is small: the data is in the tables. */
export interface TaskPayloads {
  'intake.read': { intake: number };
  'intake.take': { intake: number };
  'list.judge': { list: number };
  'list.work': { list: number };
  'job.judge': { job: number };
  /** Works out and judges again what is not fresh; nothing where it is. */
  'list.renew': { list: number };
  'job.renew': { job: number };
  'door.ask': { job: number; stamp: string };
  'run.chunk': { run: number; chunk: number };
  'run.assemble': { run: number };
  /** Takes away what was kept long enough. */
  retention: object;
  janitor: object;
}
export type TaskName = keyof TaskPayloads;

/** What a person waits for before their screen comes first; the pieces of runs last. Lower is sooner. */
const priorities: Record<TaskName, number> = {
  janitor: -30,
  retention: 5,
  'intake.read': -20,
  'intake.take': -20,
  'list.work': -10,
  'list.judge': -10,
  'job.judge': -10,
  'list.renew': -10,
  'job.renew': -10,
  'run.assemble': -1,
  'run.chunk': 0,
  'door.ask': 0,
};
/** Tasks that a worker kept for short work takes, so that a long run never holds them up. */
export const shortTasks: readonly TaskName[] = [
  'janitor',
  'intake.read',
  'intake.take',
  'list.judge',
  'list.work',
  'job.judge',
  'list.renew',
  'job.renew',
];

/** Tries of a task that threw an error; one that was only broken off, since its worker was ended, is taken up more often. */
export const mostTries = 5;
const mostAttempts = 25;

/**
 * Puts a task in the queue, in the caller's transaction if it has one: it is there exactly when the data is.
 * Tasks of one named queue are done one after the other.
 */
export async function enqueue<T extends TaskName>(
  db: Kysely<Schema> | Transaction<Schema>,
  task: T,
  payload: TaskPayloads[T],
  options: { key?: string; priority?: number; queue?: string; inSeconds?: number } = {},
): Promise<void> {
  await sql`select graphile_worker.add_job(${task}::text, payload := ${JSON.stringify(payload)}::json, queue_name := ${options.queue ?? null}::text, job_key := ${options.key ?? null}::text, max_attempts := ${mostAttempts}, run_at := now() + ${options.inSeconds ?? 0} * interval '1 second', priority := ${options.priority ?? priorities[task]}::int)`.execute(
    db,
  );
}
