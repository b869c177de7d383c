import { lstat, readdir } from 'node:fs/promises';
import { basename, join, relative } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { sql } from 'kysely';
import {
  clock,
  type Database,
  enqueue,
  outFolderName,
  printedFolderName,
  taskCard,
} from '../platform';
import * as z from 'zod';
import { passing, trayFolder } from './tray';

export interface TrayFile {
  /** From the In-tray, with `/`. */
  path: string;
  bytes: number;
  /** When it was saved, and when it arrived in its folder. */
  at: Date;
  landed: Date;
}

const mostFiles = 20_000;

/**
 * Every file in the In-tray and its folders that somebody else put there. Links are not followed.
 */
export async function trayFiles(): Promise<TrayFile[]> {
  const folder = trayFolder();
  if (!folder) return [];
  const found: TrayFile[] = [];
  const walk = async (at: string, deep: number): Promise<void> => {
    const entries = await readdir(/* turbopackIgnore: true */ at, { withFileTypes: true }).catch(
      () => [],
    );
    for (const entry of entries) {
      const path = join(/* turbopackIgnore: true */ at, entry.name);
      if (isOurs(path) || found.length >= mostFiles) continue;
      if (entry.isDirectory() && deep < 8) await walk(path, deep + 1);
      else if (entry.isFile()) {
        const { size, mtime, ctime } = await lstat(/* turbopackIgnore: true */ path);
        const own = relative(folder, path).split('\\').join('/');
        found.push({ path: own, bytes: size, at: mtime, landed: ctime });
      }
    }
  };
  await walk(folder, 0);
  return found;
}

/** Our own files, scans of printed sheets, and temporary files. */
function isOurs(path: string): boolean {
  const [first] = relative(trayFolder()!, path).split(/[\\/]/);
  return first === outFolderName || first === printedFolderName || passing.test(basename(path));
}

const tellOrders = taskCard('orders.tell', z.looseObject({}), { priority: 1, short: true });

/** A file may be saved several times shortly after one another, which is one event; in seconds. */
const settles = 1;

/**
 * Writes down for standing orders that a file landed or was saved again: once, however often it is
 * heard of.
 */
export async function hearFile(
  db: Database,
  path: string,
  change: 'came' | 'changed',
): Promise<void> {
  const folder = trayFolder();
  if (!folder || isOurs(path)) return;
  const found = await lstat(path).catch(() => undefined);
  if (!found?.isFile()) return;
  await writeFileEvent(
    db,
    {
      path: relative(folder, path).split('\\').join('/'),
      bytes: found.size,
      at: found.mtime,
      landed: found.ctime,
    },
    change,
  );
}

/** For how long a file must not have changed before it counts as whole, in ms. */
const quiet = 1000;
/** How often a new folder is looked through until all in it is whole: files that are copied. */
const mostLooks = 60;

/**
 * Records new files of a folder as events, once nothing in it is being written any more. A known
 * file is not a second event.
 */
export async function hearFolder(db: Database, folder: string): Promise<void> {
  if (!trayFolder() || isOurs(folder)) return;
  const heard = new Set<string>();
  for (let look = 0; look < mostLooks; look++) {
    await setTimeout(quiet);
    let written = false;
    const entries = await readdir(folder, { withFileTypes: true, recursive: true }).catch(() => []);
    for (const entry of entries) {
      const path = join(entry.parentPath, entry.name);
      if (!entry.isFile() || heard.has(path)) continue;
      const found = await lstat(path).catch(() => undefined);
      if (!found) continue;
      // eslint-disable-next-line no-restricted-syntax -- a file’s age goes by the machine’s clock
      if (found.ctimeMs > Date.now() - quiet) written = true;
      else {
        heard.add(path);
        await hearFile(db, path, 'came');
      }
    }
    if (!written) return;
  }
}

async function writeFileEvent(db: Database, file: TrayFile, change: 'came' | 'changed') {
  const once = `file ${file.path} ${file.at.getTime()} ${file.bytes}`;
  const given = JSON.stringify({
    name: file.path.split('/').at(-1)!,
    path: file.path,
    bytes: String(file.bytes),
  });
  await db.transaction().execute(async (tx) => {
    const listens = await tx
      .selectFrom('standing_orders')
      .select('id')
      .where('state', '=', 'on')
      .where('kind', '=', 'document')
      .limit(1)
      .executeTakeFirst();
    if (!listens) return;
    const due = sql<Date>`clock_timestamp() + ${settles} * interval '1 second'`;
    // nobody was notified yet: one event, of the file as it is now
    const folded = await tx
      .updateTable('order_events')
      .set({ given, once, due_at: due })
      .where('kind', '=', 'document')
      .where('thing', '=', `file ${file.path}`)
      .where('told_at', 'is', null)
      .where((e) =>
        e.not(
          e.exists(e.selectFrom('order_events as o').select('o.id').where('o.once', '=', once)),
        ),
      )
      .executeTakeFirst();
    if (folded.numUpdatedRows > 0n) return;
    const { numInsertedOrUpdatedRows } = await tx
      .insertInto('order_events')
      .values({
        kind: 'document',
        change,
        thing: `file ${file.path}`,
        title: file.path,
        given,
        once,
        actor: 'the In-tray',
        due_at: due,
      })
      .onConflict((c) => c.column('once').doNothing())
      .executeTakeFirstOrThrow();
    if (numInsertedOrUpdatedRows)
      await enqueue(tx, tellOrders, {}, { key: 'orders-tell', inSeconds: settles });
  });
}

/**
 * Files that arrived while nobody watched: since the first order that waits for files was turned
 * on, and no longer ago than events are stored.
 */
export async function hearFilesSince(db: Database): Promise<void> {
  const first = await db
    .selectFrom('standing_orders')
    .select((e) => e.fn.min('on_since').as('since'))
    .where('state', '=', 'on')
    .where('kind', '=', 'document')
    .executeTakeFirst();
  if (!first?.since) return;
  const since = Math.max(first.since.getTime(), clock.now() - 5 * 24 * 3600_000);
  for (const file of await trayFiles())
    if (file.landed.getTime() > since) await writeFileEvent(db, file, 'came');
}
