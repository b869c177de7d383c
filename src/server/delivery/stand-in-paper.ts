import { mkdir, rename, rm } from 'node:fs/promises';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import sharp from 'sharp';
import { paperFaults, printedSheet, type PaperFault } from '../../core/readback/paper-faults';
import { safeFileName } from '../../core/run/plan';
import { onTheWay } from '../../core/run/printer';
import { greyPages } from '../documents';
import { clock, configuration, type Database, printedFolderName, Refusal } from '../platform';
import type { PrintDocument } from './ipp';
import { documentOf } from './print-jobs';
import type { PrinterAdapter } from './printer';

/** The resolution at which a test printer's sheets are scanned. */
const scanDpi = 300;
/** Longest that one step prints, in ms. */
const slice = 15_000;

/** A test printer whose sheets come back through the In-tray, as if they had been scanned. */
export const paperPrinter: PrinterAdapter = {
  steps: true,
  before: () => Promise.resolve({ against: [], waits: null }),
  step: async (db, job) =>
    (await printOnPaper(db, job, await documentOf(db, job))) ? undefined : 1,
};

/**
 * A test printer prints: it puts pictures of its sheets, with its faults, into the In-tray. After
 * an interruption it goes on where it stopped.
 * @returns whether the job is over
 */
async function printOnPaper(
  db: Database,
  job: { id: number; name: string; printed: number; faults: string[] },
  document: PrintDocument,
): Promise<boolean> {
  const tray = configuration().HAND_STAMP_TRAY;
  if (!tray)
    throw new Refusal(
      'This installation has no In-tray, so the test printer has nowhere to print. Ask an administrator to set one up.',
    );
  const folder = join(/* turbopackIgnore: true */ tray, printedFolderName);
  await mkdir(/* turbopackIgnore: true */ folder, { recursive: true });
  const parts: Uint8Array[] = [];
  for await (const part of document.parts) parts.push(part);
  const faults = paperFaults.map(({ id }) => id).filter((id) => job.faults.includes(id));
  const began = performance.now();
  let page = job.printed;
  for await (const sheet of greyPages(Buffer.concat(parts), { from: job.printed }, scanDpi)) {
    page++;
    const going = await db
      .updateTable('print_jobs')
      .set({ state: 'printing' })
      .where('id', '=', job.id)
      .where('state', 'in', onTheWay)
      .where('stopped_at', 'is', null)
      .returning('id')
      .executeTakeFirst();
    if (!going) {
      await over(db, job.id, 'stopped');
      return true;
    }
    await putDown(folder, `${safeFileName(job.name)}-${job.id}-page-${page}.png`, sheet, faults, {
      seed: job.id * 1000 + page,
    });
    await db.updateTable('print_jobs').set({ printed: page }).where('id', '=', job.id).execute();
    if (performance.now() - began > slice) return false;
  }
  await over(db, job.id, 'printed');
  return true;
}

const over = (db: Database, id: number, state: 'printed' | 'stopped') =>
  db
    .updateTable('print_jobs')
    .set({ state, ended_at: clock.date() })
    .where('id', '=', id)
    .where('state', 'in', onTheWay)
    .execute();

/** A file is there whole or not at all. */
async function putDown(
  folder: string,
  name: string,
  sheet: Parameters<typeof printedSheet>[0],
  faults: readonly PaperFault[],
  { seed }: { seed: number },
): Promise<void> {
  const { width, height, pixels } = printedSheet(sheet, scanDpi, faults, seed);
  const making = join(
    /* turbopackIgnore: true */ folder,
    `.${randomBytes(6).toString('hex')}.part`,
  );
  try {
    await sharp(pixels, { raw: { width, height, channels: 1 } })
      .withMetadata({ density: scanDpi })
      .png({ compressionLevel: 6 })
      .toFile(making);
    await rename(making, join(/* turbopackIgnore: true */ folder, name));
  } catch (error) {
    await rm(making, { force: true });
    throw error;
  }
}
