/**
 * Starts Hand Stamp: database, migrations, demo data, worker processes, web server. Used by the
 * demo, by `dev` and by the tests.
 */
import './configured';
import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join, resolve as resolvePath } from 'node:path';
import { pathToFileURL } from 'node:url';
import { makeWorkerUtils } from 'graphile-worker';
import { sql } from 'kysely';
import { type Database, migrate, NewerDatabase, openDatabase } from '../src/server/platform/db';
import { configuration } from '../src/server/platform/configuration';
import { checkKey, WrongKey } from '../src/server/platform/key-check';
import { sealOldKeys } from '../src/server/platform/proof-keys';
import { demoGarden } from '../demo/garden';
import { visitorMail } from '../demo/people';
import { counted } from '../src/core/base/words';

interface Setup {
  giveUp(text: string): never;
  say(text: string): void;
  root: string;
  programFolder: string;
}
interface Postgres {
  startPostgres(
    purpose: string,
    options?: { fresh?: boolean; onAddress?: (url: string) => void },
  ): Promise<Server>;
  stateFolder(purpose: string): string;
  isThere(pid: number): boolean;
}
interface Server {
  url: string;
  stop(): void;
  /** Whether it runs; nobody here can know that of an external server. */
  runs?(): boolean;
  comeBack?(): boolean;
}
/**
 * The set-up modules run before any package is there, so they are plain JavaScript, and are not
 * built.
 */
const setUp = (name: string): Promise<unknown> =>
  import(pathToFileURL(resolvePath('scripts', `${name}.mjs`)).href);
const { giveUp, say, root, programFolder } = (await setUp('lib-setup')) as Setup;
const { startPostgres, stateFolder, isThere } = (await setUp('lib-postgres')) as Postgres;

const argument = (name: string): string | undefined =>
  process.argv.find((a) => a.startsWith(`--${name}=`))?.slice(name.length + 3);
const development = process.argv.includes('--dev');
/** Whether this is the start command as it was built: then so is all that it starts. */
const built = import.meta.url.endsWith('.mjs');
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
  giveUp(
    `Port ${port} is taken by another program. Stop that one, or start with another port: PORT=${port + 1} npm run demo`,
  );
if (portError)
  giveUp(
    `Port ${port} cannot be used (${portError.code}). Start with a port above 1024: PORT=3000 npm run demo`,
  );

/**
 * The In-tray, the key that seals passwords and the mark of a start lie beside the database and not
 * in it.
 */
const state = stateFolder(purpose);
const mark = join(state, 'started');
const other = existsSync(mark) ? Number(readFileSync(mark, 'utf8')) : 0;
// two starts would take the database from one another
if (
  !process.env.DATABASE_URL &&
  other &&
  isThere(other) &&
  commandOf(other).includes('scripts/start.')
)
  giveUp(
    `Hand Stamp is running from this folder already (process ${other}). Stop that one first; its terminal says its address.`,
  );

function commandOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    return '';
  }
}

const children = new Set<ChildProcess>();
let stopping = false;
/** The private database, once it is there. */
let server: Server | undefined;
let databaseUrl = process.env.DATABASE_URL ?? '';

const standIns = !process.argv.includes('--no-demo');
if (!standIns && process.env.HAND_STAMP_VISITOR)
  giveUp(
    'HAND_STAMP_VISITOR lets whoever is at this machine in, so it is for the demo only. Take it out of the environment to start this one.',
  );

const keyFile = join(state, 'key');
/** Whether the key was made at this start. */
let keyIsNew = false;

/** Prepares the folders next to the database, and returns their paths. */
function layBeside(): void {
  const tray = join(state, 'in-tray');
  mkdirSync(tray, { recursive: true });
  if (!process.env.DATABASE_URL) writeFileSync(mark, String(process.pid));
  // a key that is set from outside is kept there
  if (!process.env.HAND_STAMP_KEY) {
    if (!existsSync(keyFile)) {
      writeFileSync(keyFile, randomBytes(32).toString('hex'), { mode: 0o600 });
      keyIsNew = true;
    }
    process.env.HAND_STAMP_KEY = readFileSync(keyFile, 'utf8').trim();
  }
  process.env.HAND_STAMP_TRAY ??= tray;
  process.env.HAND_STAMP_PORT ??= String(port);
  if (!standIns) return;
  const outTray = join(state, 'out-tray');
  if (fresh) rmSync(outTray, { recursive: true, force: true });
  mkdirSync(outTray, { recursive: true });
  process.env.HAND_STAMP_OUT_TRAY ??= outTray;
  process.env.HAND_STAMP_VISITOR ??= visitorMail;
}

async function stop(code: number): Promise<void> {
  if (stopping) return;
  stopping = true;
  await Promise.all(
    [...children].map(
      (child) =>
        new Promise<void>((resolve) => {
          if (child.exitCode !== null || child.signalCode !== null) return resolve();
          child.once('exit', () => resolve());
          child.kill('SIGTERM');
          setTimeout(() => child.kill('SIGKILL'), 5000).unref();
        }),
    ),
  );
  server?.stop();
  rmSync(mark, { force: true });
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
  process.on(signal, () => void stop(0));
// the parent process is gone
process.on('disconnect', () => void stop(0));

interface Service {
  name: string;
  /** Its file without an ending, as it is written and as it is built. */
  program: string;
  args?: string[];
  /** The message when it has stopped. */
  words: string;
  env?: Record<string, string>;
  /** It may be started before the database, and answers nothing until that is prepared. */
  early?: true;
  /** For how many seconds it may be busy with one thing; longer than that it counts as stuck. */
  longestBusy?: number;
}
/** Whether the database is as this program wants it. */
let prepared = false;
const longestPause = 15_000;

/**
 * Starts a process, and again whenever it ends: at once the first time, then after growing pauses.
 */
function keep(service: Service, failures = 0): void {
  if (stopping) return;
  const started = Date.now();
  const program = built
    ? [join(programFolder, `${service.program}.mjs`)]
    : ['--import', 'tsx', `${service.program}.ts`];
  const args = ['--import', './scripts/leash.mjs', ...(service.args ?? []), ...program];
  const child = spawn(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      HAND_STAMP_PROCESS: service.name,
      LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
      NODE_ENV: development ? 'development' : 'production',
      NEXT_TELEMETRY_DISABLED: '1',
      HAND_STAMP_PROGRAMS: built ? programFolder : '',
      ...service.env,
      ...(service.early && !prepared ? { HAND_STAMP_WAITS: 'yes' } : {}),
    },
  });
  child.stdout?.on(
    'data',
    (data: Buffer) => (process.env.LOG_LEVEL || development) && process.stdout.write(data),
  );
  children.add(child);
  const endWatch = watch(child, service);
  child.on('exit', () => {
    endWatch();
    children.delete(child);
    if (stopping) return;
    const again = Date.now() - started > 60_000 ? 0 : failures + 1;
    say(`${service.words}; starting it again.`);
    setTimeout(() => keep(service, again), Math.min(longestPause, 500 * 2 ** again));
  });
}

/** How often a process is asked whether it is alive, in ms. */
const askEvery = 5000;
const usualBusy = 60;

/**
 * Ends a process that has not answered for as long as it may be busy, so that it is started again:
 * what it was doing is in the start command's log, and in the queue if it was a task. Missed
 * answers are counted, not time: a computer that was asleep has asked nobody.
 */
function watch(child: ChildProcess, { name, longestBusy = usualBusy }: Service): () => void {
  const seconds = configuration().HAND_STAMP_STUCK_SECONDS ?? longestBusy;
  let unanswered = 0;
  child.on('message', (message) => {
    if (message === 'alive') unanswered = 0;
  });
  const timer = setInterval(() => {
    if (stopping || !child.connected) return;
    if (unanswered * askEvery >= seconds * 1000) {
      clearInterval(timer);
      say(`${name} has not answered for ${seconds} s and is ended.`);
      child.kill('SIGKILL');
      return;
    }
    unanswered++;
    child.send('alive?', () => undefined);
  }, askEvery);
  return () => clearInterval(timer);
}

/** Starts the database again when it has died; everybody else waits for it. */
function watchDatabase({ runs, comeBack }: Server): void {
  if (!runs || !comeBack) return;
  setInterval(() => {
    if (stopping || runs()) return;
    say('The database stopped; starting it again.');
    if (comeBack()) say('The database is back. Nothing that was saved is lost.');
  }, 1000);
}

// a machine that only works has no pages of its own
const pages = !process.argv.includes('--no-web');
const ownAddress = process.env.HAND_STAMP_URL
  ? new URL(process.env.HAND_STAMP_URL).origin
  : `http://localhost:${port}`;
/** Whether the demo was loaded, with the people that visitors may become. */
async function demoThere(db: Database): Promise<boolean> {
  const { rows } = await sql<{ there: boolean }>`
    select exists (select from settings where name = 'demo')
      and exists (select from people where stand_in) as there`.execute(db);
  return rows[0]!.there;
}
const anybodyThere = async (db: Database): Promise<boolean> =>
  (await db.selectFrom('people').select('id').limit(1).executeTakeFirst()) !== undefined;

/**
 * The web server loads its program while the database starts and is prepared: together they take as
 * long as one of them.
 */
function begin(url: string): void {
  databaseUrl = url;
  layBeside();
  if (pages)
    keep({
      name: 'web',
      program: 'src/web',
      words: 'The web server stopped',
      env: { PORT: String(port) },
      early: true,
    });
}
if (process.env.DATABASE_URL) begin(process.env.DATABASE_URL);
else server = await startPostgres(purpose, { fresh, onAddress: begin });

/** By which the first person of an empty installation comes in. */
let welcome: string | undefined;
try {
  const { db, pool } = openDatabase(databaseUrl, 4);
  await migrate(db);
  await checkKey(db);
  await sealOldKeys(db);
  const utils = await makeWorkerUtils({ pgPool: pool });
  await utils.migrate();
  await utils.release();
  const garden =
    process.argv.includes('--no-demo') ||
    (process.env.DATABASE_URL && !process.env.HAND_STAMP_GARDEN)
      ? undefined
      : await demoGarden(db, databaseUrl);
  // the demo's loader and the first invitation are most of the program: they are loaded only if
  // needed
  const first =
    standIns &&
    !(await demoThere(db)) &&
    (await (await import('../demo/load')).loadDemo(db, garden));
  if (first) say('Loaded the demo: Marram Bay Botanic Garden, nine lists.');
  const { going } = await db
    .selectFrom('runs')
    .select((e) => e.fn.countAll<number>().as('going'))
    .where('state', 'in', ['waiting', 'running'])
    .executeTakeFirstOrThrow();
  if (going > 0 && !first)
    say(`${counted(going, 'run goes', 'runs go')} on from where the last start left off.`);
  if (!standIns && pages && !(await anybodyThere(db)))
    welcome = await (await import('../src/server/access')).firstWelcome(db, ownAddress);
  await db.destroy();
} catch (error) {
  if (error instanceof NewerDatabase) say(error.message);
  else if (error instanceof WrongKey) {
    // one that was made for a database that has another is good for nothing
    if (keyIsNew) rmSync(keyFile);
    say(error.message);
  } else {
    console.error(error);
    say('The database could not be prepared; see above.');
  }
  await stop(1);
}
if (server) watchDatabase(server);
prepared = true;
// one that has ended in the meantime is started again, and needs no message
for (const child of children) if (child.connected) child.send('prepared', () => undefined);
/** Prepares something for the first request; if it is late, it delays nothing. */
const read = (path: string): Promise<unknown> =>
  fetch(`http://127.0.0.1:${port}/${path}`, { signal: AbortSignal.timeout(20_000) })
    .then((answer) => answer.text())
    .catch(() => undefined);
if (!pages) say('Hand Stamp works here, without pages of its own.  (Ctrl-C stops it)');
for (let tries = 0; pages && tries < 1200 && !stopping; tries++) {
  const answer = await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => undefined);
  if (answer?.ok) {
    say(`Hand Stamp is ready: http://127.0.0.1:${port}  (Ctrl-C stops it)`);
    if (welcome)
      say(
        `Hand Stamp has no users yet. Open this link to become the administrator. It works once, within 7 days: ${welcome}`,
      );
    // the first page gets the computer to itself: workers are needed once somebody has done
    // something
    await read('jobs');
    // what answers links is most of the program once more, and comes last
    setTimeout(() => void read('l/none'), 10_000).unref();
    break;
  }
  await new Promise((resolve) => setTimeout(resolve, 50));
}
// pages first: a person waits for them, and all processes at once would delay each other
for (let number = 0; number <= workers; number++)
  keep({
    name: `worker-${number}`,
    program: 'src/server/tasks/worker',
    args: ['--expose-gc'],
    words: `Worker ${number} stopped`,
    // writing a large workbook is one thing, and takes minutes on a busy machine
    longestBusy: 5 * 60,
    // the one kept for short work follows the In-tray, too
    ...(number === 0 ? { env: { HAND_STAMP_WATCHES: 'yes', HAND_STAMP_SHORT: 'yes' } } : {}),
  });
if (standIns) {
  keep({
    name: 'stand-in-web',
    program: 'demo/stand-ins/web',
    words: 'The stand-in for the garden’s web server stopped',
  });
  keep({
    name: 'stand-in-mail',
    program: 'demo/stand-ins/mail',
    words: 'The stand-in for a mail server stopped',
  });
  keep({
    name: 'stand-in-app',
    program: 'demo/stand-ins/app',
    words: 'The stand-in for an app stopped',
  });
}
