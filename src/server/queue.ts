import { sql, type Kysely, type Transaction } from 'kysely';
import type { Schema } from './db/schema';

/** What the worker processes do. Each payload is small: the data is in the tables. */
export interface TaskPayloads {
  'intake.read': { intake: number };
  'intake.take': { intake: number };
  'job.judge': { job: number };
  'run.chunk': { run: number; chunk: number };
  'run.assemble': { run: number };
}
export type TaskName = keyof TaskPayloads;

/** Puts a task in the queue, in the caller's transaction if it has one: it is there exactly when the data is. */
export async function enqueue<T extends TaskName>(
  db: Kysely<Schema> | Transaction<Schema>,
  task: T,
  payload: TaskPayloads[T],
  options: { key?: string; priority?: number } = {},
): Promise<void> {
  await sql`select graphile_worker.add_job(${task}::text, payload := ${JSON.stringify(payload)}::json, job_key := ${options.key ?? null}::text, max_attempts := 5, priority := ${options.priority ?? 0}::int)`.execute(
    db,
  );
}
