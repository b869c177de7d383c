/**
 * Stops the database when the process that started it is gone, however it went: its end of our
 * standard input closes then.
 */
import { stopServer } from './lib-postgres.mjs';

const [data] = process.argv.slice(2);
process.stdin.resume();
process.stdin.on('error', () => undefined);
process.stdin.on('close', () => stopServer(data));
