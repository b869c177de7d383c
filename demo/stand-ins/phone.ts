import { mkdir, rename } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { readImages } from '../../src/core/readback/readback';
import { greyPages } from '../../src/server/documents';
import {
  configuration,
  type Database,
  printedFolderName,
  provideReader,
  readFilePieces,
} from '../../src/server/platform';
import { aslant, scribbled } from './aslant';

const dpi = 220;
/** Codes of the sheet that somebody spoils, counted as they are read. */
const spoilt = [2, 5];
const mark = 'demo.photographed';

/**
 * A stand-in for somebody with a telephone: as soon as the first badges are printed, the first
 * sheet is photographed aslant, with two codes spoilt, and the picture comes into the In-tray.
 * Once.
 */
export async function photographFirstPrint(db: Database, name: string): Promise<boolean> {
  const tray = configuration().HAND_STAMP_TRAY;
  const run = await db
    .selectFrom('runs')
    .select('id')
    .where('name', '=', name)
    .where('state', '=', 'done')
    .executeTakeFirst();
  const done = await db
    .selectFrom('settings')
    .select('value')
    .where('name', '=', mark)
    .executeTakeFirst();
  if (done || !tray) return true;
  if (!run) return false;
  const file = await db
    .selectFrom('files')
    .select('id')
    .where('run_id', '=', run.id)
    .where('mime', '=', 'application/pdf')
    .executeTakeFirstOrThrow();
  const parts: Uint8Array[] = [];
  for await (const part of readFilePieces(db, file.id)) parts.push(part);
  provideReader();
  for await (const sheet of greyPages(Buffer.concat(parts), [0], dpi)) {
    const codes = await readImages(sheet, undefined, 255);
    for (const [n, { middle }] of codes.entries())
      if (spoilt.includes(n)) scribbled(sheet, middle, dpi / 4);
    const { width, height, pixels } = aslant(sheet, 2200, 2900);
    const folder = join(tray, printedFolderName);
    await mkdir(folder, { recursive: true });
    const making = join(folder, '.photograph.part');
    await sharp(pixels, { raw: { width, height, channels: 1 } })
      .jpeg({ quality: 82 })
      .toFile(making);
    await rename(making, join(folder, 'badges-on-the-table.jpg'));
  }
  await db.insertInto('settings').values({ name: mark, value: 'yes' }).execute();
  return true;
}
