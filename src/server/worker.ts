import { EventEmitter } from 'node:events';
import { makeWorkerUtils, run, type TaskList, type WorkerEvents } from 'graphile-worker';
import { sql } from 'kysely';
import { z } from 'zod';
import { databaseUrl, openDatabase } from './db';
import { askDoors } from './door';
import { judgeListNow, judgePieceNow } from './judge';
import { log } from './log';
import { shortTasks } from './queue';
import { readIntake, takeIntake } from './tasks/intake';
import { assembleRun, runChunk } from './tasks/run';
import { watchTray } from './sources/tray-watch';
import { renewJob, renewList, workOutNow } from './working';

/** A worker process: takes tasks from the queue until it is stopped. Start as many as there are cores, on any machine. */
const { db, pool } = openDatabase(databaseUrl(), 6);

const number = z.number().int();
const tasks: TaskList = {
  'intake.read': async (payload) => readIntake(db, z.object({ intake: number }).parse(payload).intake),
  'intake.take': async (payload) => takeIntake(db, z.object({ intake: number }).parse(payload).intake),
  'list.judge': async (payload) => judgeListNow(db, z.object({ list: number }).parse(payload).list),
  'list.work': async (payload) => workOutNow(db, z.object({ list: number }).parse(payload).list),
  'list.renew': async (payload) => renewList(db, z.object({ list: number }).parse(payload).list),
  'job.renew': async (payload) => renewJob(db, z.object({ job: number }).parse(payload).job),
  'job.judge': async (payload) => judgePieceNow(db, z.object({ job: number }).parse(payload).job),
  'door.ask': async (payload) => {
    const { job, stamp } = z.object({ job: number, stamp: z.string() }).parse(payload);
    await askDoors(db, job, stamp);
  },
  'run.chunk': async (payload, helpers) => {
    const { run: runId, chunk } = z.object({ run: number, chunk: number }).parse(payload);
    await orFail(runId, helpers.job, () => runChunk(db, runId, chunk));
    tidyUp();
  },
  'run.assemble': async (payload, helpers) => {
    const runId = z.object({ run: number }).parse(payload).run;
    await orFail(runId, helpers.job, () => assembleRun(db, runId));
  },
};

let chunks = 0;
/** A long run leaves much to be thrown away; done now and then, the worker stays as small over 50,000 pieces as over 5,000. */
function tidyUp(): void {
  if (++chunks % 4 === 0) (globalThis as { gc?: () => void }).gc?.();
}

/** After the last try the run itself says that it failed; until then the queue tries again. */
async function orFail(runId: number, job: { attempts: number; max_attempts: number }, work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    log.error({ err: error, run: runId }, 'run task failed');
    if (job.attempts >= job.max_attempts)
      await db
        .updateTable('runs')
        .set({
          state: 'failed',
          finished_at: new Date(),
          error: 'A part of the run could not be made; the log says why. Start the run again.',
        })
        .where('id', '=', runId)
        .execute();
    throw error;
  }
}

/** A dead worker's tasks stay locked for hours by default; the living ones free them within seconds. */
const lostAfterSeconds = 8;
let stopping = false;
/**
 * Without its database the queue cannot even put a task back, and its pool may go on with nobody in it: this process ends, another
 * is started, and frees what this one held.
 */
function leave(error: unknown): void {
  if (stopping) return;
  log.error({ err: error }, 'the worker ends; it is to be started again');
  process.exit(1);
}

const events: WorkerEvents = new EventEmitter();
events.on('worker:fatalError', ({ error }) => leave(error));
events.on('worker:stop', ({ error }) => leave(error));
const own: string[] = [];
// the queue locks tasks under the name of the pool, not of the worker in it
events.on('pool:create', ({ workerPool }) => {
  own.push(workerPool.id);
  void heartbeat();
});

const utils = await makeWorkerUtils({ pgPool: pool });
/** A worker kept for short work leaves runs to the others. */
const mine = process.env.HAND_STAMP_SHORT ? Object.fromEntries(shortTasks.map((name) => [name, tasks[name]])) : tasks;
const runner = await run({ pgPool: pool, taskList: mine, concurrency: 1, pollInterval: 1000, noHandleSignals: true, events });

runner.promise.then(() => leave(new Error('the queue has stopped')), leave);

async function heartbeat(): Promise<void> {
  try {
    for (const worker of own)
      await db
        .insertInto('workers')
        .values({ id: worker, seen_at: sql`now()` })
        .onConflict((c) => c.column('id').doUpdateSet({ seen_at: sql`now()` }))
        .execute();
    const lost = await db
      .selectFrom('workers')
      .select('id')
      .where('seen_at', '<', sql<Date>`now() - ${lostAfterSeconds} * interval '1 second'`)
      .execute();
    if (lost.length > 0) {
      // first freed, then forgotten: whatever happens in between, somebody frees them again
      const ids = lost.map((worker) => worker.id);
      await utils.forceUnlockWorkers(ids);
      await db.deleteFrom('workers').where('id', 'in', ids).execute();
      log.warn({ workers: lost.length }, 'freed the tasks of workers that are gone');
    }
  } catch (error) {
    leave(error);
  }
}
const beat = setInterval(() => void heartbeat(), 2000);

async function stop(): Promise<void> {
  stopping = true;
  clearInterval(beat);
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
if (process.env.HAND_STAMP_WATCHES) await watchTray(db);
log.info('worker ready');
