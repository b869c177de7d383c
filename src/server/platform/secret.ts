import { randomInt } from 'node:crypto';
import { secretAlphabet } from '../../core/records/worked';

/** A random text that nobody can guess, from the system's random source. */
export const randomText = (length: number): string =>
  Array.from({ length }, () => secretAlphabet[randomInt(secretAlphabet.length)]).join('');
