import { EventEmitter } from 'node:events';
import { constants, setPriority } from 'node:os';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import {
  parseCronItems,
  run,
  type JobHelpers,
  type TaskList,
  type WorkerEvents,
} from 'graphile-worker';
import {
  configuration,
  databaseUrl,
  ending,
  finalWords,
  isAway,
  lanes,
  log,
  mostTries,
  openDatabase,
  programOf,
  type Task,
  WorkEnded,
} from '../platform';
import type { HeartbeatData } from './heartbeat';
import { holdTray } from '../sources';
import { allTasks, endTask, performTask } from './registry';

/**
 * A worker process: takes tasks from the queue until it is stopped. Start as many as there are
 * cores, on any machine.
 */
const set = configuration();
const { db, pool } = openDatabase(databaseUrl(), 6);

/**
 * Runs a task: here, or in a process of its own if it may be dangerous or was interrupted before,
 * as a task is that kills its worker. A task that kills that process too, or fails too often, is
 * not tried any more, and reports so in words.
 */
async function perform(
  { name, apart, minutes }: Task<never>,
  payload: unknown,
  { job }: JobHelpers,
): Promise<void> {
  try {
    if (apart || job.attempts > 1)
      await lanes.tasks.do('task', { name, payload }, minutes * 60_000);
    else await performTask(db, name, payload);
  } catch (error) {
    log.error({ err: error, task: name, payload, attempts: job.attempts }, 'task failed');
    // a worker that is stopped takes the process of its task with it, which is not the task's fault
    if (stopping) throw error;
    const words = finalWords(error);
    if (words !== undefined && allTasks().get(name)?.end) {
      await endTask(db, name, payload, words.replace(/\.$/, ''), true);
      return;
    }
    // what ended its process once may have been ended by something else on the machine
    const again = !(error instanceof WorkEnded) || (error.why === 'died' && job.attempts < 2);
    if (again && (job.attempts < mostTries || isAway(error))) throw error;
    await endTask(
      db,
      name,
      payload,
      error instanceof WorkEnded
        ? `it ${error.message}`
        : 'it failed several times; the log says why',
    );
  }
  tidyUp();
}

const list: TaskList = {};
for (const task of allTasks().values())
  if (task.short || !set.HAND_STAMP_SHORT)
    list[task.name] = (payload, helpers) => perform(task, payload, helpers);

let done = 0;
/**
 * A long run leaves much to be thrown away; done now and then, the worker stays as small over
 * 50,000 pieces as over 5,000.
 */
function tidyUp(): void {
  if (++done % 4 === 0) (globalThis as { gc?: () => void }).gc?.();
}

// a run takes a little longer so that people who work at the same time get quick answers; what they
// wait for is not delayed
if (!set.HAND_STAMP_SHORT) setPriority(constants.priority.PRIORITY_BELOW_NORMAL);

let stopping = false;
/**
 * Without its database the queue cannot even return a task, and its pool may stay empty. So this
 * process ends, another is started, and its tasks are freed.
 */
function leave(error: unknown): void {
  if (stopping) return;
  if (isAway(error)) log.warn('the database is away; the worker ends, and is to be started again');
  else log.error({ err: error }, 'the worker ends; it is to be started again');
  process.exit(1);
}

const events: WorkerEvents = new EventEmitter();
events.on('worker:fatalError', ({ error }) => leave(error));
events.on('worker:stop', ({ error }) => leave(error));
const awake = new Int32Array(new SharedArrayBuffer(4));
// eslint-disable-next-line no-restricted-syntax -- two threads of one machine
const wake = () => Atomics.store(awake, 0, Math.floor(Date.now() / 1000));
wake();
setInterval(wake, 1000).unref();
const own: string[] = [];
// the queue locks tasks under the name of the pool, not of the worker in it
events.on('pool:create', ({ workerPool }) => {
  own.push(workerPool.id);
  const data: HeartbeatData = { url: databaseUrl(), pools: own, awake };
  const { file, execArgv } = programOf('src/server/tasks/heartbeat');
  // a thread does not inherit what lets this process read TypeScript
  const thread =
    execArgv.length === 0
      ? new Worker(file, { workerData: data })
      : new Worker(
          `import('tsx/esm/api').then((tsx) => (tsx.register(), import(${JSON.stringify(pathToFileURL(file).href)})))`,
          { eval: true, workerData: data },
        );
  thread.on('error', leave);
  thread.on('exit', () => leave(new Error('the heartbeat has stopped')));
});

const runner = await run({
  pgPool: pool,
  taskList: list,
  concurrency: 1,
  pollInterval: 1000,
  noHandleSignals: true,
  events,
  parsedCronItems: parseCronItems([
    { task: 'janitor', match: '* * * * *', options: { maxAttempts: 1, jobKey: 'janitor' } },
    // the schedule, and what is left if nobody was notified
    { task: 'orders.tell', match: '* * * * *', options: { jobKey: 'orders-tell' } },
    { task: 'retention', match: '7 * * * *', options: { maxAttempts: 1, jobKey: 'retention' } },
  ]),
}).catch((error: unknown) => {
  leave(error);
  throw error;
});
runner.promise.then(() => leave(new Error('the queue has stopped')), leave);

async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  ending.now = true;
  await runner.stop();
  await db
    .deleteFrom('workers')
    .where('id', 'in', [...own, ''])
    .execute()
    .catch(() => undefined);
  await pool.end();
  process.exit(0);
}
process.on('uncaughtException', leave);
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
if (set.HAND_STAMP_WATCHES) await holdTray(db, databaseUrl(), leave);
if (set.HAND_STAMP_SHORT) lanes.tasks.warm();
log.info('worker ready');
