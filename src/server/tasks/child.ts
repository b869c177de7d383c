import { Worker } from 'node:worker_threads';
import type { AskedWork, Told } from '../platform';
import { configuration } from '../platform/configuration';
import { works } from './works';

/**
 * A process for work that could crash or hang; see `pool.ts`. It ends with its parent, even in the
 * middle of a loop.
 */

/**
 * Ends the process with this signal when it has taken too much memory, so that the pool can tell
 * why.
 */
const tooMuchMemory = 'SIGUSR2';
const mostBytes = (configuration().HAND_STAMP_APART_MB ?? 1024) * 2 ** 20;

// in a thread of its own, since whatever it has to end keeps the first one busy
new Worker(
  `setInterval(() => {
     if (process.ppid !== ${process.ppid}) process.kill(process.pid, 'SIGKILL');
     if (process.memoryUsage.rss() > ${mostBytes}) process.kill(process.pid, '${tooMuchMemory}');
   }, 100)`,
  { eval: true, execArgv: [] },
).unref();

/** The parent may be gone by now. */
const tell = (told: Told): void => void process.send?.(told, undefined, undefined, () => undefined);

process.on('disconnect', () => process.exit());
// Ctrl-C in a terminal reaches every process at once; this one ends with its parent, whose work is
// then taken up again
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => undefined);
process.on('message', ({ work, input }: AskedWork) => {
  (works[work] as (input: unknown) => Promise<unknown>)(input).then(
    (done) => tell({ done }),
    (error: unknown) => {
      const { name, message, status, code } = error as Error & { status?: number; code?: string };
      tell({ failed: { name, message, status, code } });
    },
  );
});
tell({ ready: true });
