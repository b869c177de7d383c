import type { Migration } from 'kysely';
import * as first from './0001-first';

/** In order of their names. A migration that has landed is never changed; add the next one. */
export const migrations: Record<string, Migration> = {
  '0001-first': first,
};
