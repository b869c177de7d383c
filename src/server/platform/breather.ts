import { setImmediate } from 'node:timers/promises';

/** How long one thing is done at a time, in ms, before others have their turn. */
const atATime = 25;

/**
 * Lets a long piece of work be called between its steps, so that the process goes on answering: it
 * waits for others only where the last wait is a while ago.
 */
export function breather(): () => Promise<void> {
  let last = performance.now();
  return async () => {
    if (performance.now() - last < atATime) return;
    await setImmediate();
    last = performance.now();
  };
}
