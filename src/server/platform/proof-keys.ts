import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import { isSealedKey } from '../../core/base/proof';
import type { Stamp } from '../../core/payload/stamp';
import type { Column } from '../../core/records/columns';
import { withKey } from '../../core/records/beginnings';
import type { Database } from './db';
import { sealedPrefix } from './proof-signing';
import { seal } from './sealed';

/** A key as it is stored: a missing one is created, an open one is sealed. */
const kept = (key: string): string =>
  isSealedKey(key)
    ? key
    : sealedPrefix + seal(key === 'new' ? randomBytes(32).toString('hex') : key);

export const stampWithSealedKey = <S extends Pick<Stamp, 'proofKey'>>(stamp: S): S =>
  stamp.proofKey === undefined ? stamp : { ...stamp, proofKey: kept(stamp.proofKey) };

type Worked = NonNullable<Column['worked']>;
export const workedWithSealedKey = (worked: Worked): Worked => withKey(worked, kept);

/** Tables and columns where documents are kept that can hold a key. */
export const proofKeyPlaces = [
  ['lists', 'stamps'],
  ['lists', 'columns'],
  ['revisions', 'columns_before'],
  ['revisions', 'columns_after'],
  ['job_versions', 'document'],
  ['runs', 'frozen'],
  ['kept', 'document'],
] as const;
const openKey = /("(?:proofKey|key)":\s*")((?:[0-9a-f]{2}){16,64})(")/g;

/**
 * Seals open keys that earlier versions stored. Runs at every start; after the first there is
 * nothing left to do.
 */
export async function sealOldKeys(db: Database): Promise<void> {
  for (const [table, column] of proofKeyPlaces) {
    const at = sql.ref(column);
    const { rows } = await sql<{ place: string; text: string }>`
      select ctid::text as place, ${at}::text as text from ${sql.table(table)}
      where ${at}::text ~ '"(proofKey|key)":\\s*"([0-9a-f]{2}){16,64}"'`.execute(db);
    for (const { place, text } of rows) {
      const sealed = text.replace(
        openKey,
        (_, before: string, key: string, after: string) => before + kept(key) + after,
      );
      await sql`update ${sql.table(table)} set ${at} = ${sealed}::jsonb
        where ctid = ${place}::tid`.execute(db);
    }
  }
}
