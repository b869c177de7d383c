/**
 * A run on the real queue and database: two worker processes beside one, and the memory of one at
 * 5,000 and 50,000 pieces.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { makeWorkerUtils } from 'graphile-worker';
import { migrate, openDatabase, type Database } from '../src/server/platform/db';
import { judgeListNow } from '../src/server/judging/judge';
import { createJob, createList } from '../src/server/lists/lists';
import { startRun } from '../src/server/runs/runs';
import { addresses, median, report } from './measure';

interface Postgres {
  startPostgres(
    purpose: string,
    options?: { fresh?: boolean },
  ): Promise<{ url: string; stop(): void }>;
}
const { startPostgres } = (await import('../scripts/lib-postgres.mjs' as string)) as Postgres;

/** A fresh server with an empty database of ours, gone afterwards however the work ends. */
export async function withDatabase(
  work: (db: Database, url: string) => Promise<void>,
): Promise<void> {
  const server = await startPostgres('bench', { fresh: true });
  const { db, pool } = openDatabase(server.url, 4);
  try {
    await migrate(db);
    const utils = await makeWorkerUtils({ pgPool: pool });
    await utils.migrate();
    await utils.release();
    await work(db, server.url);
  } finally {
    await db.destroy();
    server.stop();
  }
}

export const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

export const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Greatest memory that a process has had, in MB. */
export const peakOf = (pid: number): number =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024;

/** @param program as it is built, for what its memory is; from its source otherwise */
export function startWorker(url: string, program?: string): Promise<ChildProcess> {
  const child = spawn(
    process.execPath,
    ['--expose-gc', ...(program ? [program] : ['--import', 'tsx', 'src/server/tasks/worker.ts'])],
    {
      env: {
        ...process.env,
        DATABASE_URL: url,
        LOG_LEVEL: 'info',
        NODE_ENV: 'production',
        // what it starts beside itself is built, too
        ...(program ? { HAND_STAMP_PROGRAMS: join(process.cwd(), '.next/programs') } : {}),
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  );
  return new Promise((resolve) =>
    child.stdout!.on(
      'data',
      (data: Buffer) => data.toString().includes('worker ready') && resolve(child),
    ),
  );
}

export const stopWorkers = (children: readonly ChildProcess[]) =>
  Promise.all(
    children.map(
      (child) =>
        new Promise<void>(
          (resolve) => (child.once('exit', () => resolve()), child.kill('SIGTERM')),
        ),
    ),
  );

/** A job of so many records with an address each, not judged yet, and its list. */
export async function unjudged(
  db: Database,
  count: number,
): Promise<{ job: number; list: number }> {
  const rows = addresses(count).map((page, i) => [
    `DH-${String(i + 1).padStart(5, '0')}`,
    `Ines Okafor ${i + 1}`,
    page,
  ]);
  const list = await createList(db, {
    name: `${count}`,
    source: 'bench',
    headings: ['No', 'Name', 'Page'],
    roles: ['key', 'name', 'address'],
    rows,
    note: '',
    actor: 'bench',
  });
  const job = await createJob(db, `${count}`, list.id, list.columns, 'bench');
  const { stamps } = await db
    .selectFrom('lists')
    .select('stamps')
    .where('id', '=', list.id)
    .executeTakeFirstOrThrow();
  stamps[0].look.dpi = 300;
  await db
    .updateTable('lists')
    .set({ stamps: JSON.stringify(stamps) })
    .where('id', '=', list.id)
    .execute();
  return { job, list: list.id };
}

/** The same, judged. */
export async function jobOf(db: Database, count: number): Promise<number> {
  const { job, list } = await unjudged(db, count);
  await judgeListNow(db, list);
  return job;
}

/** Waits until a run is done; gives the moment at which all its pieces were made. */
async function finish(db: Database, run: number): Promise<number> {
  for (let made = 0; ; await pause(50)) {
    const state = await db
      .selectFrom('runs')
      .select(['state', 'pieces', 'pieces_made', 'codes_failed'])
      .where('id', '=', run)
      .executeTakeFirstOrThrow();
    if (state.codes_failed > 0 || state.state === 'failed') throw new Error('the run failed');
    if (made === 0 && state.pieces_made === state.pieces) made = performance.now();
    if (state.state === 'done') return made;
  }
}

/**
 * Seconds until every chunk is made, and from then until the files are there; peak memory of the
 * first worker. Workers live for long, so they make a run of `warm` first.
 */
export async function timeRun(
  db: Database,
  url: string,
  job: number,
  workers: number,
  warm?: number,
  kind?: string,
): Promise<{ made: number; assembled: number; peak: number }> {
  const output = kind === undefined ? undefined : { kind };
  const children: ChildProcess[] = [];
  for (let i = 0; i < workers; i++) children.push(await startWorker(url));
  if (warm !== undefined)
    await finish(db, await startRun(db, warm, { name: 'warm', which: 'ready', output }, 'bench'));
  const start = performance.now();
  const run = await startRun(db, job, { name: 'bench', which: 'ready', output }, 'bench');
  const made = (await finish(db, run)) - start;
  const assembled = performance.now() - start - made;
  const peak = Math.max(...children.map((child) => peakOf(child.pid!)));
  await stopWorkers(children);
  return { made: made / 1000, assembled: assembled / 1000, peak };
}

export async function benchWorkers(): Promise<void> {
  await withDatabase(async (db, url) => {
    const [warm, small, middle, large] = [
      await jobOf(db, 840),
      await jobOf(db, 5000),
      await jobOf(db, 10_000),
      await jobOf(db, 50_000),
    ];
    const ones: number[] = [];
    const twos: number[] = [];
    const assembled: number[] = [];
    for (let round = 0; round < 3; round++) {
      ones.push((await timeRun(db, url, middle, 1, warm)).made);
      const two = await timeRun(db, url, middle, 2, warm);
      twos.push(two.made);
      assembled.push(two.assembled);
    }
    const two = median(twos);
    report(
      '10,000 labels made and read back by two workers, in seconds, beside one',
      two,
      median(ones),
      'lower',
    );
    report(
      'putting the pages of those together, in seconds, beside making them with two workers',
      median(assembled),
      two,
      'lower',
    );
    const few = await timeRun(db, url, small, 1);
    const many = await timeRun(db, url, large, 1);
    report(
      'peak memory of a worker over 50,000 pieces, in MB, beside 5,000',
      many.peak,
      few.peak,
      'lower',
    );
  });
}
