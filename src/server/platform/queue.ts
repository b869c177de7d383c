import { sql, type Kysely, type Transaction } from 'kysely';
import type { z } from 'zod';
import type { Schema } from './db/schema';

/**
 * A task that can be queued: its name, its small payload (the data is in the tables), and its
 * options. Modules that only queue a task need its card; the work is in its definition.
 */
export interface TaskCard<P = unknown> {
  name: string;
  schema: z.ZodType<P>;
  /** Work that a person waits for comes first; the pieces of runs come last. Lower is sooner. */
  priority: number;
  /**
   * Short work: taken by a worker that is kept for it too, so that a long run never holds it up.
   */
  short: boolean;
  /** Always done in a process of its own; other tasks only after they were broken off once. */
  apart: boolean;
  /** How long it may take in a process of its own, in minutes. */
  minutes: number;
}

/** A card with the defaults filled in. */
export const taskCard = <P>(
  name: string,
  schema: z.ZodType<P>,
  { priority = 0, short = false, apart = false, minutes = 30 }: Partial<TaskCard<P>> = {},
): TaskCard<P> => ({ name, schema, priority, short, apart, minutes });

type Connection = Kysely<Schema> | Transaction<Schema>;

/** The work of a task. It is safe to repeat, and safe to run twice at once. */
export interface Task<P = unknown> extends TaskCard<P> {
  run(db: Kysely<Schema>, payload: P): Promise<void>;
  /**
   * There will be no further try: reports it, in words, where a person looks for the result.
   * @param why the reason, without a full stop
   * @param final another try would not help either
   */
  end?(db: Kysely<Schema>, payload: P, why: string, final: boolean): Promise<void>;
}

/** Defines the work of a task. Returned without its type, for a list of all tasks. */
export const defineTask = <P>(
  card: TaskCard<P>,
  run: Task<P>['run'],
  end?: Task<P>['end'],
): Task<never> => ({ ...card, run, end }) as unknown as Task<never>;

/**
 * Tries of a task that threw an error; one that was only broken off, since its worker was ended, is
 * taken up more often.
 */
export const mostTries = 5;
const mostAttempts = 25;

interface Enqueued {
  /** Replaces a waiting task of this key. */
  key?: string;
  priority?: number;
  /** Tasks of one named queue are done one after the other. */
  queue?: string;
  inSeconds?: number;
}

/**
 * Puts a task in the queue, in the caller's transaction if it has one: it is there exactly when the
 * data is.
 */
export async function enqueue<P>(
  db: Connection,
  card: TaskCard<P>,
  payload: P,
  { key, priority = card.priority, queue, inSeconds = 0 }: Enqueued = {},
): Promise<void> {
  await sql`select graphile_worker.add_job(${card.name}::text,
    payload := ${JSON.stringify(payload)}::json, queue_name := ${queue ?? null}::text,
    job_key := ${key ?? null}::text, max_attempts := ${mostAttempts},
    run_at := now() + ${inSeconds} * interval '1 second', priority := ${priority}::int)`.execute(
    db,
  );
}
