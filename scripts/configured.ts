/**
 * Imported first by everything that starts Hand Stamp: a wrong setting is reported in one line, not
 * as an error of the first code that reads it.
 */
import { configuration } from '../src/server/platform/configuration';

try {
  configuration();
} catch (error) {
  console.error(
    `[hand-stamp] Something is set wrongly. ${error instanceof Error ? error.message : String(error)}`,
  );
  process.exit(1);
}
