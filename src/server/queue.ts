import { sql, type Kysely, type Transaction } from 'kysely';
import type { Schema } from './db/schema';

/** What the worker processes do. Each payload is small: the data is in the tables. */
export interface TaskPayloads {
  'intake.read': { intake: number };
  'intake.take': { intake: number };
  'list.judge': { list: number };
  'list.work': { list: number };
  'job.judge': { job: number };
  'door.ask': { job: number; stamp: string };
  'run.chunk': { run: number; chunk: number };
  'run.assemble': { run: number };
}
export type TaskName = keyof TaskPayloads;

/**
 * Puts a task in the queue, in the caller's transaction if it has one: it is there exactly when the data is.
 * Tasks of one named queue are done one after the other.
 */
export async function enqueue<T extends TaskName>(
  db: Kysely<Schema> | Transaction<Schema>,
  task: T,
  payload: TaskPayloads[T],
  options: { key?: string; priority?: number; queue?: string } = {},
): Promise<void> {
  await sql`select graphile_worker.add_job(${task}::text, payload := ${JSON.stringify(payload)}::json, queue_name := ${options.queue ?? null}::text, job_key := ${options.key ?? null}::text, max_attempts := 5, priority := ${options.priority ?? 0}::int)`.execute(
    db,
  );
}
