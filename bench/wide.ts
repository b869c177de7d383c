/**
 * A long and wide list through the queue: 100,000 records of 60 columns from the bytes of a CSV to
 * the list, with the greatest memory of the process that reads and of the one that takes.
 */
import { execFileSync } from 'node:child_process';
import { takeSchema } from '../src/contract';
import type { Database } from '../src/server/platform/db';
import { beginTaking } from '../src/server/sources/asking';
import { askIntake } from '../src/server/sources/reread';
import { pause, peakOf, startWorker, stopWorkers, withDatabase } from './workers';

/** As it is built: from its sources it would hold what reads those, too. */
const program = '.next/programs/src/server/tasks/worker.mjs';
const sites = ['Dune House', 'Glasshouse', 'Seed store', 'North gate'];

function csvOf(records: number, columns: number): Buffer {
  const heading = Array.from({ length: columns }, (_, c) => `Column ${c + 1}`).join(',');
  const cell = (r: number, c: number): string =>
    c === 0
      ? `DH-${String(r + 1).padStart(6, '0')}`
      : c % 5 === 0
        ? ''
        : c % 7 === 0
          ? sites[(r + c) % sites.length]!
          : String((r * 2654435761 + c * 97) % 99_991);
  const lines = Array.from({ length: records }, (_, r) =>
    Array.from({ length: columns }, (_, c) => cell(r, c)).join(','),
  );
  return Buffer.from([heading, ...lines].join('\r\n'));
}

/** Processes below one, those that a worker has for dangerous work among them. */
function below(pid: number): number[] {
  const rows = execFileSync('ps', ['-eo', 'pid=,ppid='], { encoding: 'utf8' })
    .trim()
    .split('\n')
    .map((line) => line.trim().split(/\s+/).map(Number));
  return rows.filter(([, parent]) => parent === pid).map(([child]) => child!);
}

/** Seconds until an intake is as wished, and the most memory below a worker meanwhile, in MB. */
async function until(
  db: Database,
  id: number,
  wished: string,
  worker: number,
): Promise<{ seconds: number; peak: number }> {
  const from = performance.now();
  let peak = 0;
  for (; ; await pause(50)) {
    for (const child of below(worker)) peak = Math.max(peak, peakOf(child) || 0);
    const { state, error } = await db
      .selectFrom('intakes')
      .select(['state', 'error'])
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    if (state === 'failed') throw new Error(error ?? 'the file was not taken');
    if (state === wished) return { seconds: (performance.now() - from) / 1000, peak };
  }
}

export async function benchWide(): Promise<void> {
  const [records, columns] = [100_000, 60];
  const bytes = csvOf(records, columns);
  await withDatabase(async (db, url) => {
    const worker = await startWorker(url, program);
    const name = 'wide.csv';
    const id = await askIntake(db, {
      name,
      bytes,
      origin: { kind: 'file', name, headerRow: 0 },
      actor: 'bench',
    });
    const read = await until(db, id, 'read', worker.pid!);
    const roles = Array.from({ length: columns }, (_, c) => (c === 0 ? 'key' : 'text'));
    await beginTaking(db, id, takeSchema.parse({ name: 'Wide', sheet: 0, headerRow: 0, roles }));
    const taken = await until(db, id, 'taken', worker.pid!);
    await stopWorkers([worker]);
    console.log(
      `${records.toLocaleString('en')} records of ${columns} columns, ${(bytes.length / 2 ** 20).toFixed(0)} MB: read ${read.seconds.toFixed(1)} s at ${read.peak.toFixed(0)} MB, taken ${taken.seconds.toFixed(1)} s at ${taken.peak.toFixed(0)} MB`,
    );
  });
}
