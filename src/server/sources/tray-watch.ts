import { mkdir } from 'node:fs/promises';
import { basename, relative } from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import { type Database, log, outFolderName } from '../platform';
import { readAgain } from './reread';
import { passing, trayFolder } from './tray';

/** Watches the In-tray: a file that is saved, or a folder that changes, is read again by the lists that come from it. */
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
  watcher.on('all', (_event, path) => {
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
  return watcher;
}

async function saved(db: Database, name: string): Promise<void> {
  const lists = await db
    .selectFrom('lists')
    .select(['id', 'origin'])
    .where('origin', 'is not', null)
    .execute();
  for (const { id, origin } of lists)
    if (
      (origin?.kind === 'tray' && origin.name === name) ||
      (origin?.kind === 'folder' && origin.tray && origin.name === name)
    )
      await readAgain(db, id, 'the In-tray');
}
