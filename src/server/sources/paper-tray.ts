import { mkdir, readdir, lstat } from 'node:fs/promises';
import { join } from 'node:path';
import { type Database, enqueue, printedFolderName } from '../platform';
import { readPaperCard } from './cards';
import { passing, trayFolder } from './tray';

const scan = /\.(pdf|png|jpe?g|webp|tiff?)$/i;
const mostFiles = 2000;

/** The In-tray's folder for scans of printed sheets; undefined without an In-tray. */
export function printedFolder(): string | undefined {
  const tray = trayFolder();
  return tray && join(/* turbopackIgnore: true */ tray, printedFolderName);
}

/**
 * Queues every new scan in that folder. A file is identified by its name and the time it was saved,
 * so that two notifications read it once.
 */
export async function hearPaper(db: Database): Promise<void> {
  const folder = printedFolder();
  if (!folder) return;
  await mkdir(/* turbopackIgnore: true */ folder, { recursive: true });
  const names = (await readdir(/* turbopackIgnore: true */ folder)).filter(
    (name) => scan.test(name) && !passing.test(name),
  );
  for (const name of names.sort().slice(0, mostFiles)) {
    const found = await lstat(join(/* turbopackIgnore: true */ folder, name)).catch(
      () => undefined,
    );
    if (!found?.isFile()) continue;
    const stamp = `${Math.round(found.mtimeMs)} ${found.size}`;
    await db.transaction().execute(async (tx) => {
      const fresh = await tx
        .insertInto('paper_files')
        .values({ name, tray_path: name, tray_stamp: stamp, made_by: 'the In-tray' })
        .onConflict((c) => c.columns(['tray_path', 'tray_stamp']).doNothing())
        .returning('id')
        .executeTakeFirst();
      if (fresh) await enqueue(tx, readPaperCard, { file: fresh.id }, { key: `paper-${fresh.id}` });
    });
  }
}
