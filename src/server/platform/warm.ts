import { warmForStrangers } from './apart/pictures';
import { warmDatabase } from './db';
import { log } from './log';

let warmed = false;

/**
 * Prepares, once, what the first requests would wait for: connections, and the process that draws
 * for strangers. The first health check starts it. Not a hook of Next.js: that is bundled
 * separately, and its copies of our errors would not be recognized.
 */
export function warmUp(): void {
  if (warmed) return;
  warmed = true;
  Promise.all([warmDatabase(), warmForStrangers()]).catch((error: unknown) =>
    log.warn({ err: error }, 'the web server could not get ready beforehand'),
  );
}
