import { randomBytes } from 'node:crypto';
import { lstat, mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { madeChip } from '../../../core/orders/order';
import { safeName } from '../../../core/run/names';
import { outFolder } from '../../outputs';
import { RunError } from '../../platform';
import { runFile } from './run-file';
import { lastRun, type StepDoer, type StepOf, StepTrouble } from './step';

const mostBytes = 500 * 2 ** 20;

/** The Out-tray's own folder, or one in it. */
function folderOf(step: StepOf<'out'>): string {
  try {
    const out = outFolder();
    return step.folder === ''
      ? out
      : join(/* turbopackIgnore: true */ out, safeName(step.folder, 'folder'));
  } catch (error) {
    if (error instanceof RunError) throw new StepTrouble(error.message);
    throw error;
  }
}

export const out: StepDoer<StepOf<'out'>> = {
  outside: true,
  do: async (step, situation) => {
    const run = lastRun(situation);
    const file = await runFile(situation, run, mostBytes);
    const folder = folderOf(step);
    const [, base, ending] = /^(.*?)(\.\w+)?$/s.exec(file.name)!;
    // by the run, so that it is the same file however often it is put there, and no other run's
    const name = `${safeName(base!, 'file')}-${run}${ending ?? ''}`;
    const making = join(
      /* turbopackIgnore: true */ folder,
      `.${randomBytes(8).toString('hex')}.part`,
    );
    try {
      await mkdir(folder, { recursive: true });
      if (!(await lstat(outFolder())).isDirectory() || !(await lstat(folder)).isDirectory())
        throw new StepTrouble(
          'The Out-tray is not a folder but a link to one. Ask an administrator.',
        );
      await writeFile(making, file.bytes, { flag: 'wx' });
      await rename(making, join(/* turbopackIgnore: true */ folder, name));
    } catch (error) {
      await rm(making, { force: true });
      const { code } = error as NodeJS.ErrnoException;
      if (error instanceof StepTrouble || code === undefined) throw error;
      throw new StepTrouble(`The Out-tray could not be written (${code}).`, true);
    }
    return {
      words: `put ${name} into ${step.folder === '' ? 'the Out-tray' : `the Out-tray’s folder ${step.folder}`}`,
      made: { run, file: name },
      chips: { [madeChip(step.id, 'file')]: name },
    };
  },
  would: async (step) => {
    folderOf(step);
    return {
      words: `would put it into ${step.folder === '' ? 'the Out-tray' : `the Out-tray’s folder ${step.folder}`}`,
      chips: { [madeChip(step.id, 'file')]: '…' },
    };
  },
};
