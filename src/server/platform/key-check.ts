import { sql } from 'kysely';
import { configuration } from './configuration';
import type { Database } from './db';
import { opensWith, sealWith } from './sealed';

const name = 'key.check';
const content = 'Hand Stamp';

/** Columns that hold only a sealed text: they show which key a database without a check uses. */
const sealedColumns = [
  ['webhooks', 'secret'],
  ['connections', 'password'],
  ['standing_orders', 'secret'],
  ['documents', 'password'],
] as const;

/** The key is missing or is not the one that this database was sealed with. */
export class WrongKey extends Error {
  override name = 'WrongKey';
}

/**
 * Whether a key opens what is sealed in a database; undefined if nothing is sealed.
 * @param key as set in `HAND_STAMP_KEY`
 */
export async function keyFits(db: Database, key: string): Promise<boolean | undefined> {
  const check = await db
    .selectFrom('settings')
    .select('value')
    .where('name', '=', name)
    .executeTakeFirst();
  if (check) return opensWith(key, check.value);
  for (const [table, column] of sealedColumns) {
    const at = sql.ref(column);
    const { rows } = await sql<{ text: string }>`
      select ${at} as text from ${sql.table(table)} where ${at} <> '' limit 1`.execute(db);
    if (rows[0]) return opensWith(key, rows[0].text);
  }
  return undefined;
}

/**
 * Makes sure that the configured key belongs to this database. The first key that is used is
 * remembered by a sealed text, which does not reveal it.
 * @throws WrongKey in words
 */
export async function checkKey(db: Database): Promise<void> {
  const key = configuration().HAND_STAMP_KEY;
  if (!key)
    throw new WrongKey(
      'HAND_STAMP_KEY is not set. Set it to a text of 16 characters or more, keep it safe, and start again.',
    );
  if ((await keyFits(db, key)) === false)
    throw new WrongKey(
      'HAND_STAMP_KEY is not the key that this database was sealed with, so its passwords and secrets cannot be opened. Set it to the earlier key, which is in every backup. Nothing was changed.',
    );
  await db
    .insertInto('settings')
    .values({ name, value: sealWith(key, content) })
    .onConflict((c) => c.doNothing())
    .execute();
}
