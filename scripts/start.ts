/** Starts Hand Stamp: database, migrations, demo data, worker processes, web server. Used by the demo, by `dev` and by the tests. */
import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { makeWorkerUtils } from 'graphile-worker';
import { migrate, openDatabase } from '../src/server/db';
import { loadDemo } from '../src/server/demo';
import { demoGarden } from '../src/server/demo-garden';

interface Setup {
  giveUp(text: string): never;
  say(text: string): void;
  root: string;
}
interface Postgres {
  startPostgres(purpose: string, options?: { fresh?: boolean }): Promise<{ url: string; stop(): void }>;
  stateFolder(purpose: string): string;
}
// the two set-up modules run before any package is there, so they are plain JavaScript
const { giveUp, say, root } = (await import('./lib-setup.mjs' as string)) as Setup;
const { startPostgres, stateFolder } = (await import('./lib-postgres.mjs' as string)) as Postgres;

const argument = (name: string): string | undefined => process.argv.find((a) => a.startsWith(`--${name}=`))?.slice(name.length + 3);
const development = process.argv.includes('--dev');
const fresh = process.argv.includes('--fresh');
const purpose = argument('purpose') ?? 'demo';
const port = Number(argument('port') ?? process.env.PORT ?? 3000);
const workers = Number(argument('workers') ?? 2);

const portError = await new Promise<NodeJS.ErrnoException | undefined>((resolve) => {
  const probe = createServer();
  probe.once('error', resolve);
  probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(undefined)));
});
if (portError?.code === 'EADDRINUSE')
  giveUp(`Port ${port} is taken by another program. Stop that one, or start with another port: PORT=${port + 1} npm run demo`);
if (portError) giveUp(`Port ${port} cannot be used (${portError.code}). Start with a port above 1024: PORT=3000 npm run demo`);

const children: ChildProcess[] = [];
let stopping = false;
const server = process.env.DATABASE_URL
  ? { url: process.env.DATABASE_URL, stop: () => undefined }
  : await startPostgres(purpose, { fresh });

/** The In-tray and the key that seals passwords lie beside the database and not in it. */
const state = stateFolder(purpose);
const tray = join(state, 'in-tray');
mkdirSync(tray, { recursive: true });
const keyFile = join(state, 'key');
if (!existsSync(keyFile)) writeFileSync(keyFile, randomBytes(32).toString('hex'), { mode: 0o600 });
process.env.HAND_STAMP_KEY ??= readFileSync(keyFile, 'utf8').trim();
process.env.HAND_STAMP_TRAY ??= tray;

async function stop(code: number): Promise<void> {
  if (stopping) return;
  stopping = true;
  await Promise.all(
    children.map(
      (child) =>
        new Promise<void>((resolve) => {
          if (child.exitCode !== null || child.signalCode !== null) return resolve();
          child.once('exit', () => resolve());
          child.kill('SIGTERM');
          setTimeout(() => child.kill('SIGKILL'), 5000).unref();
        }),
    ),
  );
  server.stop();
  process.exit(code);
}
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));
process.on('SIGHUP', () => void stop(0));

function start(name: string, args: string[], onExit: () => void, more: Record<string, string> = {}): void {
  const child = spawn(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      DATABASE_URL: server.url,
      HAND_STAMP_PROCESS: name,
      LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
      NODE_ENV: development ? 'development' : 'production',
      NEXT_TELEMETRY_DISABLED: '1',
      ...more,
    },
  });
  child.stdout?.on('data', (data: Buffer) => (process.env.LOG_LEVEL || development) && process.stdout.write(data));
  child.on('exit', () => !stopping && onExit());
  children.push(child);
}

/** A worker that dies is started again; its tasks are freed by the others or by itself. */
function startWorker(number: number): void {
  start(
    `worker-${number}`,
    ['--expose-gc', '--import', 'tsx', 'src/server/worker.ts'],
    () => {
      say(`Worker ${number} stopped; starting it again.`);
      setTimeout(() => startWorker(number), 1000);
    },
    // the one kept for short work follows the In-tray, too
    number === 0 ? { HAND_STAMP_WATCHES: 'yes', HAND_STAMP_SHORT: 'yes' } : undefined,
  );
}

try {
  const { db, pool } = openDatabase(server.url, 4);
  await migrate(db);
  const utils = await makeWorkerUtils({ pgPool: pool });
  await utils.migrate();
  await utils.release();
  const garden =
    process.argv.includes('--no-demo') || (process.env.DATABASE_URL && !process.env.HAND_STAMP_GARDEN)
      ? undefined
      : await demoGarden(db, server.url);
  if (!process.argv.includes('--no-demo') && (await loadDemo(db, garden))) say('Loaded the demo: Marram Bay Botanic Garden, seven lists.');
  await db.destroy();
} catch (error) {
  console.error(error);
  say('The database could not be prepared; see above.');
  await stop(1);
}
for (let i = 0; i <= workers; i++) startWorker(i);
if (!process.argv.includes('--no-demo'))
  start('stand-in-web', ['--import', 'tsx', 'src/server/stand-ins/web.ts'], () => say('The stand-in for the garden’s web server stopped.'));
const next = 'node_modules/next/dist/bin/next';
start(
  'web',
  development ? [next, 'dev', '-p', String(port), '-H', '127.0.0.1'] : [next, 'start', '-p', String(port), '-H', '127.0.0.1'],
  () => {
    say('The web server stopped.');
    void stop(1);
  },
);
for (let tries = 0; tries < 240 && !stopping; tries++) {
  const answer = await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => undefined);
  if (answer?.ok) {
    say(`Hand Stamp is ready: http://127.0.0.1:${port}  (Ctrl-C stops it)`);
    break;
  }
  await new Promise((resolve) => setTimeout(resolve, 250));
}
