import * as z from 'zod';
import { deliveryTasks } from '../delivery';
import { judgingTasks } from '../judging';
import { linkTasks } from '../links';
import { listTasks } from '../lists';
import { type Database, defineTask, takeAwayTheOld, type Task, taskCard } from '../platform';
import { orderTasks } from '../orders';
import { runTasks } from '../runs';
import { sourceTasks } from '../sources';
import { webhookTasks } from '../webhooks';
import { tidy } from './janitor';

/** All tasks, by name. */
export const allTasks = (): ReadonlyMap<string, Task<never>> => known;

/** Runs a task here and now. @throws whatever it throws */
export async function performTask(db: Database, name: string, payload: unknown): Promise<void> {
  const task = known.get(name);
  if (!task) throw new Error(`there is no task ${name}`);
  await task.run(db, task.schema.parse(payload));
}

/** Reports that a task is not tried any more; does nothing for a task of an earlier version. */
export async function endTask(
  db: Database,
  name: string,
  payload: unknown,
  why: string,
  final = false,
): Promise<void> {
  const task = known.get(name);
  await task?.end?.(db, task.schema.parse(payload), why, final);
}

/** Done by the queue's own schedule. */
const scheduled = [
  defineTask(taskCard('retention', z.looseObject({}), { priority: 5 }), (db) => takeAwayTheOld(db)),
  defineTask(
    taskCard('janitor', z.looseObject({}), { priority: -30, short: true, minutes: 10 }),
    (db) => tidy(db, endTask),
  ),
];

/**
 * To add one of our own: its card, and its definition in the list of its module.
 */
const known: ReadonlyMap<string, Task<never>> = new Map(
  [
    ...scheduled,
    ...judgingTasks,
    ...listTasks,
    ...linkTasks,
    ...sourceTasks,
    ...runTasks,
    ...deliveryTasks,
    ...orderTasks,
    ...webhookTasks,
  ].map((task: Task<never>) => [task.name, task]),
);
