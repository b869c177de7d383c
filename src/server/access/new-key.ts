import { sql } from 'kysely';
import { type Database, proofKeyPlaces, reseal } from '../platform';
import { secretFrom } from './auth';

/** Columns that hold a sealed text and nothing else. */
const plain = [
  ['connections', 'password'],
  ['documents', 'password'],
  ['webhooks', 'secret'],
  ['standing_orders', 'secret'],
] as const;
/** Columns of JSON in which sealed texts are marked. */
const marked = [
  ...proofKeyPlaces,
  ['standing_orders', 'document'],
  ['order_versions', 'document'],
] as const;
/**
 * Seals everything again with another key, in one transaction. Sessions end, since their cookies
 * are signed with the key.
 * @returns the number of values that were sealed again
 * @throws Error if a value does not open with the current key; then nothing is changed
 */
export async function sealAnew(db: Database, from: string, to: string): Promise<number> {
  let count = 0;
  const anew = (text: string): string => {
    count++;
    return reseal(text, from, to);
  };
  await db.transaction().execute(async (tx) => {
    await sql`lock table settings, people in exclusive mode`.execute(tx);
    for (const [table, column] of plain) {
      const at = sql.ref(column);
      const { rows } = await sql<{
        place: string;
        text: string;
      }>`select ctid::text as place, ${at} as text from ${sql.table(table)}
        where ${at} <> ''`.execute(tx);
      for (const { place, text } of rows)
        await sql`update ${sql.table(table)} set ${at} = ${anew(text)}
          where ctid = ${place}::tid`.execute(tx);
    }
    const { rows: mail } = await sql<{
      name: string;
      value: string;
    }>`select name, value from settings where name in ('mail.password', 'key.check') and value <> ''`.execute(
      tx,
    );
    for (const { name, value } of mail)
      await tx
        .updateTable('settings')
        .set({ value: anew(value) })
        .where('name', '=', name)
        .execute();
    for (const [table, column] of marked) {
      const at = sql.ref(column);
      const { rows } = await sql<{
        place: string;
        text: string;
        type: string;
      }>`select ctid::text as place, ${at}::text as text, pg_typeof(${at})::text as type
        from ${sql.table(table)} where ${at}::text like '%"sealed:%'`.execute(tx);
      for (const { place, text, type } of rows) {
        const sealed = text.replace(
          /"sealed:([^"]+)"/g,
          (_, inner: string) => `"sealed:${anew(inner)}"`,
        );
        await sql`update ${sql.table(table)} set ${at} = ${sealed}::${sql.raw(type)}
          where ctid = ${place}::tid`.execute(tx);
      }
    }
    const { rows: seconds } = await sql<{
      id: string;
      secret: string;
      codes: string;
    }>`select id, secret, backup_codes as codes from second_factors`.execute(tx);
    const { symmetricDecrypt, symmetricEncrypt } = await import('better-auth/crypto');
    const keys = { from: secretFrom(from), to: secretFrom(to) };
    const other = async (data: string) => {
      count++;
      return symmetricEncrypt({
        key: keys.to,
        data: await symmetricDecrypt({ key: keys.from, data }),
      });
    };
    for (const { id, secret, codes } of seconds)
      await sql`update second_factors
        set secret = ${await other(secret)}, backup_codes = ${await other(codes)}
        where id = ${id}`.execute(tx);
    await tx.deleteFrom('sessions').execute();
  });
  return count;
}
