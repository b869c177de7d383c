import { warmForStrangers } from './apart/pictures';
import { warmDatabase } from './db';
import { log } from './log';

let warmed = false;

/**
 * Has ready, once, what the first who ask would have to wait for: connections, and the process that
 * draws for strangers. Begun by the first question whether the server is well, which whoever starts
 * it asks. Not by a file of Next.js's own for this: it is bundled apart, and errors of its copies
 * would be strangers to ours.
 */
export function warmUp(): void {
  if (warmed) return;
  warmed = true;
  Promise.all([warmDatabase(), warmForStrangers()]).catch((error: unknown) =>
    log.warn({ err: error }, 'the web server could not get ready beforehand'),
  );
}
