/**
 * How a run grows with its pieces, and what further workers and web servers change: 1,000, 10,000
 * and 100,000 labels from list to file; 10,000 with one to three workers while people look at the
 * list through one or two web servers.
 */
import { judgeListNow } from '../src/server/judging/judge';
import type { Database } from '../src/server/platform/db';
import { askAll, startWeb } from './load';
import { quantile } from './measure';
import { jobOf, timeRun, unjudged, withDatabase } from './workers';

const seconds = async <T>(work: () => Promise<T>): Promise<[number, T]> => {
  const from = performance.now();
  const done = await work();
  return [(performance.now() - from) / 1000, done];
};

async function runOf(db: Database, url: string, count: number, warm: number): Promise<void> {
  const [putAway, { job, list }] = await seconds(() => unjudged(db, count));
  const [judged] = await seconds(() => judgeListNow(db, list));
  const { made, assembled, peak } = await timeRun(db, url, job, 1, warm);
  console.log(
    `${count.toLocaleString('en')} labels: put away ${putAway.toFixed(2)} s, judged ${judged.toFixed(1)} s, made and read back ${made.toFixed(1)} s, put together ${assembled.toFixed(1)} s, peak of the worker ${peak.toFixed(0)} MB`,
  );
}

/** People who look at windows of a list, each once a second, through web servers in turn. */
const people = 20;

async function together(
  db: Database,
  url: string,
  job: number,
  warm: number,
  workers: number,
  webServers: number,
): Promise<void> {
  const webs = [];
  for (let i = 0; i < webServers; i++) webs.push(await startWeb(url));
  try {
    for (const { base } of webs) await fetch(`${base}/api/jobs/${job}/rows?offset=0&limit=100`);
    let over = false;
    const looking = (async () => {
      const times: number[] = [];
      while (!over) {
        const { early, times: later } = await askAll(
          people,
          1000,
          (client, turn) =>
            `${webs[client % webServers].base}/api/jobs/${job}/rows?limit=100&offset=${((client * 79 + turn * 13) % 99) * 100}`,
          Infinity,
          performance.now() + 2000,
        );
        times.push(...early, ...later);
      }
      return times;
    })();
    const { made } = await timeRun(db, url, job, workers, warm);
    over = true;
    const times = await looking;
    console.log(
      `10,000 labels, ${workers} workers, ${webServers} web servers, ${people} people: made and read back ${made.toFixed(1)} s; ${times.length} windows, p50 ${quantile(times, 0.5).toFixed(0)} ms, p99 ${quantile(times, 0.99).toFixed(0)} ms`,
    );
  } finally {
    for (const { server } of webs) server.kill('SIGKILL');
  }
}

export async function benchGrowth(): Promise<void> {
  await withDatabase(async (db, url) => {
    const warm = await jobOf(db, 840);
    for (const count of [1000, 10_000, 100_000]) await runOf(db, url, count, warm);
    const job = await jobOf(db, 10_000);
    for (const webServers of [1, 2])
      for (const workers of [1, 2, 3]) await together(db, url, job, warm, workers, webServers);
  });
}
