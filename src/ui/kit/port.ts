import { port as wording } from './words';
import { filled } from './with-parts';
/** A port that was typed: a whole number from 1 to 65535 (RFC 6335, 6); undefined for another. */
export function portOf(typed: string): number | undefined {
  const port = /^\s*\d{1,5}\s*$/.test(typed) ? Number(typed) : 0;
  return port >= 1 && port <= 65535 ? port : undefined;
}

/**
 * The problem of a port number that was typed, in words; undefined if the field is empty.
 *
 * @param usual the usual port: `465 or 587`
 */
export const portTrouble = (typed: string, usual: string): string | undefined =>
  typed.trim() === '' || portOf(typed) !== undefined
    ? undefined
    : filled(wording.isNotAPort, typed, usual);
