import { createPrivateKey, type KeyObject, randomBytes, sign } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { sql } from 'kysely';
import { isSealedKey, provideKeyOpener, provideSigner } from '../../core/base/proof';
import type { Stamp } from '../../core/payload/stamp';
import type { Column } from '../../core/records/columns';
import { withKey } from '../../core/records/beginnings';
import type { Database } from './db';
import { seal, unseal } from './sealed';

const prefix = 'sealed:';
const opened = new LRUCache<string, string>({ max: 200 });

/** Lets proofs be made in this process with the keys that documents hold sealed. */
export function openProofKeys(): void {
  provideKeyOpener((sealed) => {
    const hex = opened.get(sealed) ?? unseal(sealed.slice(prefix.length));
    opened.set(sealed, hex);
    return hex;
  });
  provideSigner(signed);
}

const signers = new LRUCache<string, KeyObject>({ max: 200 });
/** What stands before the 32 bytes of a private key of Ed25519 (PKCS #8, RFC 8410). */
const pkcs8 = Buffer.from('302e020100300506032b657004220420', 'hex');

/**
 * Signs as the core does, ten times as fast and more: a list of many thousand codes is signed anew
 * whenever it is checked.
 */
function signed(bytes: Uint8Array, seed: Uint8Array): Uint8Array {
  const name = Buffer.from(seed).toString('base64');
  let key = signers.get(name);
  if (!key) {
    key = createPrivateKey({ key: Buffer.concat([pkcs8, seed]), format: 'der', type: 'pkcs8' });
    signers.set(name, key);
  }
  return sign(null, bytes, key);
}

/** A key as it is kept: one that is still to be made is made, one that lies open is sealed. */
const kept = (key: string): string =>
  isSealedKey(key) ? key : prefix + seal(key === 'new' ? randomBytes(32).toString('hex') : key);

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
 * Seals keys that lie open in what earlier versions of the program kept. Done at every start;
 * nothing is left to do after the first.
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
