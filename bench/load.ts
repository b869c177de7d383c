/**
 * Answers under load: many people at one long list while a run goes, and many readers of picture
 * addresses; how long they wait.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import { giveAddresses } from '../src/server/links/code-addresses';
import { startRun } from '../src/server/runs/runs';
import { quantile, report } from './measure';
import { freePort, jobOf, withDatabase } from './workers';

const records = 200_000;
const clients = 50;
const readers = 200;
const seconds = 30;
/** Of these, the first in which a server that was idle gets warm are told apart. */
const warmingUp = 5;

export interface Asked {
  /** While the server was getting warm, and after that. */
  early: number[];
  times: number[];
  refused: number;
}

/**
 * Asks for a while, so many at a time, each pausing between two of its questions.
 * @param until the moment, as `performance.now` tells it, after which nobody asks again
 */
export async function askAll(
  many: number,
  pauseMs: number,
  url: (client: number, turn: number) => string,
  turns = Infinity,
  until = performance.now() + seconds * 1000,
): Promise<Asked> {
  const warm = performance.now() + warmingUp * 1000;
  const asked: Asked = { early: [], times: [], refused: 0 };
  await Promise.all(
    Array.from({ length: many }, async (_, client) => {
      // people do not all begin in the same moment
      await new Promise((resolve) => setTimeout(resolve, (client * 997) % Math.max(1, pauseMs)));
      for (let turn = 0; turn < turns && performance.now() < until; turn++) {
        const from = performance.now();
        const response = await fetch(url(client, turn));
        await response.arrayBuffer();
        (from < warm ? asked.early : asked.times).push(performance.now() - from);
        if (!response.ok) asked.refused++;
        await new Promise((resolve) => setTimeout(resolve, pauseMs));
      }
    }),
  );
  return asked;
}

const said = (times: readonly number[]): string =>
  times.length === 0
    ? 'none'
    : `${times.length} answers, p50 ${quantile(times, 0.5).toFixed(0)} ms, p99 ${quantile(times, 0.99).toFixed(0)} ms`;

const tell = (name: string, { early, times, refused }: Asked): void =>
  console.log(
    `${name}: in the first ${warmingUp} s ${said(early)}; after that ${said(times)}; refused ${refused}`,
  );

/** A web server of the build, which answers. */
export async function startWeb(url: string) {
  const port = await freePort();
  const env = {
    ...process.env,
    DATABASE_URL: url,
    LOG_LEVEL: 'error',
    NODE_ENV: 'production' as const,
    HAND_STAMP_KEY: 'bench',
  };
  const server = spawn(
    process.execPath,
    ['node_modules/next/dist/bin/next', 'start', '-p', String(port), '-H', '127.0.0.1'],
    { env, stdio: 'ignore' },
  );
  const base = `http://127.0.0.1:${port}`;
  while (!(await fetch(`${base}/api/health`).catch(() => undefined))?.ok)
    await new Promise((resolve) => setTimeout(resolve, 200));
  return { base, server, env };
}

export async function benchLoad(): Promise<void> {
  await withDatabase(async (db, url) => {
    const children: ChildProcess[] = [];
    try {
      const job = await jobOf(db, records);
      const { base, server, env } = await startWeb(url);
      children.push(server);
      await fetch(`${base}/api/jobs/${job}/rows?offset=0&limit=100`);
      children.push(
        spawn(process.execPath, ['--expose-gc', '--import', 'tsx', 'src/server/tasks/worker.ts'], {
          env,
          stdio: 'ignore',
        }),
      );
      await startRun(db, job, { name: 'meanwhile', which: 'ready' }, 'bench');
      // windows all over the list, sorted and searched as people do: the same few orders and words,
      // again and again
      const words = [1000, 1001, 1002].map((n) => `&q=Okafor%20${n}`);
      const sorts = ['', '&sort=c1:down', '&sort=c2:up', '&sort=c3:up', '&filter=ready'];
      const begun = [
        ...sorts.map((sort) => `${sort}&offset=5000`),
        ...words.map((q) => `${q}&offset=0`),
      ];
      const cold = await askAll(
        1,
        0,
        (_, turn) => `${base}/api/jobs/${job}/rows?limit=100${begun[turn]}`,
        begun.length,
      );
      tell('the same orders when nobody has asked for them yet', cold);
      const windows = askAll(clients, 1000, (client, turn) => {
        const search = turn % 5 === 4 ? words[turn % 3] : sorts[client % sorts.length];
        return `${base}/api/jobs/${job}/rows?limit=100&offset=${((client * 7919 + turn * 104_729) % 1900) * (search.startsWith('&q') ? 0 : 100)}${search}`;
      });
      const health = askAll(1, 200, () => `${base}/api/health`);
      tell(
        `windows of ${records.toLocaleString('en')} records, ${clients} people, a run going`,
        await windows,
      );
      tell('health meanwhile', await health);
      const { stamps } = await db.selectFrom('lists').select('stamps').executeTakeFirstOrThrow();
      const ids = (
        await db.selectFrom('records').select('id').orderBy('id').limit(2000).execute()
      ).map((r) => r.id);
      await giveAddresses(db, job, stamps[0].id, 'bench', ids);
      const tokens = (await db.selectFrom('code_addresses').select('token').execute()).map(
        (r) => r.token,
      );
      const [work] = children.splice(1, 1);
      work.kill('SIGKILL');
      const first = await askAll(1, 0, () => `${base}/c/${tokens[0]}.png`, 1);
      tell('the first picture of all, for which a process is started', first);
      const pictures = await askAll(
        readers,
        1500,
        (client, turn) => `${base}/c/${tokens[(client + turn * readers) % tokens.length]}.png`,
      );
      tell(`pictures at addresses, ${readers} readers`, pictures);
      const own = quantile(pictures.times, 0.5);
      const plain = await askAll(readers, 1500, () => `${base}/icon.svg`);
      report(
        'a picture of a code, median in ms, beside a file that lies there',
        own,
        quantile(plain.times, 0.5),
        'lower',
      );
    } finally {
      for (const child of children) child.kill('SIGKILL');
    }
  });
}
