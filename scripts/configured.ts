/**
 * Imported before all else by what starts Hand Stamp: a wrong value is told in one line, not as an
 * error of whoever reads it first.
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
