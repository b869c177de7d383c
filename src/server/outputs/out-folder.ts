import { randomBytes } from 'node:crypto';
import { lstat, mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { freeName } from '../../core/run/names';
import { safeFileName } from '../../core/run/plan';
import { configuration, outFolderName, RunError } from '../platform';
import { itemsOf } from './items';
import type { RunToAssemble } from './maker';

/** The Out-tray: a folder in the In-tray. @throws RunError where this Hand Stamp has no In-tray */
export function outFolder(): string {
  const tray = configuration().HAND_STAMP_TRAY;
  if (!tray)
    throw new RunError(
      'This installation has no In-tray, and so no Out-tray. Ask an administrator to set one up.',
    );
  return join(/* turbopackIgnore: true */ tray, outFolderName);
}

/**
 * Writes the files of a run into a folder of its own in the Out-tray. The folder is there whole or
 * not at all, and written again it is the same one.
 * @throws RunError in words
 */
export async function writeOut({ db, runId, title }: RunToAssemble): Promise<void> {
  const out = outFolder();
  const own = join(/* turbopackIgnore: true */ out, `${safeFileName(title)}-${runId}`);
  const making = join(/* turbopackIgnore: true */ out, `.${randomBytes(8).toString('hex')}.part`);
  try {
    await mkdir(out, { recursive: true });
    if (!(await lstat(out)).isDirectory())
      throw new RunError('The Out-tray is not a folder but a link to one. Ask an administrator.');
    await mkdir(making);
    const taken: string[] = [];
    for await (const { parts } of itemsOf(db, runId))
      for (const { name, bytes } of parts) {
        const [, base, ending] = /^(.*?)(\.\w+)?$/s.exec(name)!;
        const free = freeName(base!, taken);
        taken.push(free);
        await writeFile(join(/* turbopackIgnore: true */ making, free + (ending ?? '')), bytes, {
          flag: 'wx',
        });
      }
    await rm(own, { recursive: true, force: true });
    await rename(making, own);
  } catch (error) {
    await rm(making, { recursive: true, force: true });
    const { code } = error as NodeJS.ErrnoException;
    if (error instanceof RunError || code === undefined) throw error;
    throw new RunError(`the Out-tray could not be written (${code})`);
  }
}
