import { setImmediate } from 'node:timers/promises';

/** How long one thing is done at a time, in ms, before others have their turn. */
const atATime = 25;

/**
 * Call it between the steps of long work, so that the process keeps answering. It yields only if
 * the last yield is some time ago.
 */
export function breather(): () => Promise<void> {
  let last = performance.now();
  return async () => {
    if (performance.now() - last < atATime) return;
    await setImmediate();
    last = performance.now();
  };
}
