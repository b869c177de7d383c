import { z } from 'zod';
import { takeAwayTheOld } from '../platform';
import type { Database, TaskName, TaskPayloads } from '../platform';
import { askDoors, stopAsking } from '../links';
import { judgeListNow, judgePieceNow } from '../judging';
import { renewJob, renewList, workOutNow } from '../lists';
import { endIntake, readIntake, takeIntake } from '../sources';
import { tidy } from './janitor';
import { assembleRun, endRun, runChunk } from '../runs';

/** What a worker does with a task of one name. Each is safe to repeat, and safe beside itself. */
interface Task<T extends TaskName> {
  schema: z.ZodType<TaskPayloads[T]>;
  run(db: Database, payload: TaskPayloads[T]): Promise<void>;
  /** Always in a process of its own; others only after they were broken off once. */
  apart?: boolean;
  /** How long it may take in a process of its own, in minutes. */
  minutes: number;
  /** Nothing more will be tried: says so, in words, where a person looks for what was to come of it. */
  end?(db: Database, payload: TaskPayloads[T], why: string): Promise<void>;
}

const number = z.number().int();
const intake = z.object({ intake: number });
const list = z.object({ list: number });
const job = z.object({ job: number });

export const tasks: { [T in TaskName]: Task<T> } = {
  'intake.read': {
    schema: intake,
    apart: true,
    minutes: 5,
    run: (db, p) => readIntake(db, p.intake),
    end: (db, p, why) => endIntake(db, p.intake, why),
  },
  'intake.take': {
    schema: intake,
    apart: true,
    minutes: 15,
    run: (db, p) => takeIntake(db, p.intake),
    end: (db, p, why) => endIntake(db, p.intake, why),
  },
  'list.judge': { schema: list, minutes: 30, run: (db, p) => judgeListNow(db, p.list) },
  'list.work': { schema: list, minutes: 30, run: (db, p) => workOutNow(db, p.list) },
  'list.renew': { schema: list, minutes: 30, run: (db, p) => renewList(db, p.list) },
  'job.renew': { schema: job, minutes: 30, run: (db, p) => renewJob(db, p.job) },
  'job.judge': { schema: job, minutes: 30, run: (db, p) => judgePieceNow(db, p.job) },
  'door.ask': {
    schema: z.object({ job: number, stamp: z.string() }),
    minutes: 30,
    run: (db, p) => askDoors(db, p.job, p.stamp),
    end: (db, p) => stopAsking(db, p.job),
  },
  'run.chunk': {
    schema: z.object({ run: number, chunk: number }),
    minutes: 20,
    run: (db, p) => runChunk(db, p.run, p.chunk),
    end: (db, p, why) => endRun(db, p.run, why),
  },
  'run.assemble': {
    schema: z.object({ run: number }),
    minutes: 60,
    run: (db, p) => assembleRun(db, p.run),
    end: (db, p, why) => endRun(db, p.run, why),
  },
  retention: { schema: z.looseObject({}), minutes: 30, run: (db) => takeAwayTheOld(db) },
  janitor: { schema: z.looseObject({}), minutes: 10, run: (db) => tidy(db, endTask) },
};

const isTask = (name: string): name is TaskName => Object.hasOwn(tasks, name);
const task = (name: string): Task<never> => {
  if (!isTask(name)) throw new Error(`there is no task ${name}`);
  return tasks[name] as unknown as Task<never>;
};

/** Does a task here and now. @throws what it throws */
export const performTask = (db: Database, name: string, payload: unknown): Promise<void> => {
  const { schema, run } = task(name);
  return run(db, schema.parse(payload));
};

/** Says of a task that it is not tried any more. */
export async function endTask(
  db: Database,
  name: string,
  payload: unknown,
  why: string,
): Promise<void> {
  // one of an earlier version of the program
  if (!isTask(name)) return;
  const { schema, end } = task(name);
  await end?.(db, schema.parse(payload), why);
}
