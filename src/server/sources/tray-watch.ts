import { mkdir, readdir, stat } from 'node:fs/promises';
import { basename, join, relative } from 'node:path';
import pg from 'pg';
import { watch, type FSWatcher } from 'chokidar';
import { sourceOf } from '../../core/job/sources';
import { type Database, log, outFolderName, printedFolderName } from '../platform';
import { hearPaper } from './paper-tray';
import { readAgain } from './reread';
import { passing, trayFolder } from './tray';
import { hearFile, hearFilesSince, hearFolder } from './tray-files';

/** The lock of the process that holds the In-tray. */
const trayLock = [7202, 1] as const;
/**
 * How often waiting processes check whether it is free, in ms; it is free as soon as its holder's
 * connection ends.
 */
const looksEvery = 2000;
/** Files saved so short a time before a takeover may have been noticed by nobody, in ms. */
const unheard = 15_000;

/**
 * Watches the In-tray as the only process on this database, or waits to. Returns once it watches or
 * waits; the next one takes over within seconds of the holder's end.
 * @param lost ends this process, which may watch no more
 */
export async function holdTray(
  db: Database,
  url: string,
  lost: (error: Error) => void,
): Promise<void> {
  if (!trayFolder()) return;
  const client = new pg.Client({ connectionString: url });
  // without this connection another process holds it, so this one must stop
  client.on('error', lost);
  await client.connect();
  client.on('end', () => lost(new Error('the In-tray is no longer held')));
  const take = async (): Promise<boolean> => {
    const { rows } = await client.query<{ mine: boolean }>(
      'select pg_try_advisory_lock($1, $2) as mine',
      [...trayLock],
    );
    return rows[0]?.mine ?? false;
  };
  if (await take()) return void (await watchTray(db));
  const timer = setInterval(() => {
    take().then(
      async (mine) => {
        if (!mine) return;
        clearInterval(timer);
        await watchTray(db);
        await hearTheUnheard(db);
        log.info('took the In-tray over');
      },
      // without its database this process ends anyway, and another begins
      () => clearInterval(timer),
    );
  }, looksEvery);
  timer.unref();
}

/** Files that were saved when perhaps nobody watched. */
async function hearTheUnheard(db: Database): Promise<void> {
  const folder = trayFolder();
  if (!folder) return;
  for (const name of await readdir(folder)) {
    if (name === outFolderName || passing.test(name)) continue;
    const { mtimeMs } = await stat(join(folder, name)).catch(() => ({ mtimeMs: 0 }));
    // eslint-disable-next-line no-restricted-syntax -- a file’s age goes by the machine’s clock
    if (mtimeMs > Date.now() - unheard) await saved(db, name);
  }
}

/**
 * Watches the In-tray: a file that is saved, or a folder that changes, is read again by the lists
 * that come from it.
 */
export async function watchTray(db: Database): Promise<FSWatcher | undefined> {
  const folder = trayFolder();
  if (!folder) return undefined;
  await mkdir(folder, { recursive: true });
  const watcher = watch(folder, {
    ignoreInitial: true,
    awaitWriteFinish: { stabilityThreshold: 500, pollInterval: 100 },
    depth: 8,
  });
  const waiting = new Map<string, NodeJS.Timeout>();
  watcher.on('all', (event, path) => {
    if (event === 'add' || event === 'change')
      hearFile(db, path, event === 'add' ? 'came' : 'changed').catch((error: unknown) =>
        log.error({ err: error }, 'orders could not be told of a file'),
      );
    // a folder is searched before it is watched, and again after: what arrives between the two is
    // reported by neither
    if (event === 'addDir' && path !== folder)
      hearFolder(db, path).catch((error: unknown) =>
        log.error({ err: error }, 'orders could not be told of a folder'),
      );
    const name = relative(folder, path).split(/[\\/]/)[0];
    if (!name || name === outFolderName || passing.test(basename(path))) return;
    // a folder may change in many files at once
    clearTimeout(waiting.get(name));
    waiting.set(
      name,
      setTimeout(() => {
        waiting.delete(name);
        saved(db, name).catch((error: unknown) =>
          log.error({ err: error, name }, 'the In-tray could not be followed'),
        );
      }, 300),
    );
  });
  watcher.on('error', (error) => log.warn({ err: error }, 'the In-tray cannot be watched'));
  await new Promise<void>((resolve) => watcher.once('ready', () => resolve()));
  // files that arrived while nobody watched
  await hearPaper(db);
  await hearFilesSince(db);
  return watcher;
}

async function saved(db: Database, name: string): Promise<void> {
  if (name === printedFolderName) return hearPaper(db);
  const lists = await db
    .selectFrom('lists')
    .select(['id', 'origin'])
    .where('origin', 'is not', null)
    .execute();
  for (const { id, origin } of lists)
    if (origin && sourceOf(origin).inTray?.(origin, name)) await readAgain(db, id, 'the In-tray');
}
