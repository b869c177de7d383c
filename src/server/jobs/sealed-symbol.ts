import type { SealedSymbol } from '../../contract';
import { maskPayload } from '../../core/payload/secrets';
import { contentOf, encodeOptionsOf, type Stamp } from '../../core/payload/stamp';
import { hashOf } from '../../core/readback/readback';
import { encode, EncodeError, expectedRead } from '../../core/symbology';
import type { Column, Values } from '../../core/records/columns';
import { mayChange, type Person } from '../access';
import { type Database, oneOf } from '../platform';

/**
 * The symbols of records' codes for a person who may see the codes but not their contents: drawn
 * from the true values, with masked payloads and the hash by which a reading is compared. By record
 * number; missing ones are left out. A code can be scanned from the screen, so people who may not
 * see the secret get none.
 */
export async function sealedSymbols(
  db: Database,
  records: readonly number[],
  stamp: Stamp,
  person: Pick<Person, 'id' | 'right'>,
): Promise<Record<number, SealedSymbol>> {
  const rows = await db
    .selectFrom('records')
    .innerJoin('lists', 'lists.id', 'records.list_id')
    .select(['records.id', 'records.values', 'lists.columns', 'lists.id as list'])
    .where(oneOf('records.id', records))
    .execute();
  const may = await mayChange(db, person, [...new Set(rows.map((row) => row.list))]);
  return Object.fromEntries(
    rows.map(({ id, values, columns, list }) => [
      id,
      may.has(list)
        ? sealed(stamp, values, columns)
        : { symbol: null, reason: withheld, withheld: true as const },
    ]),
  );
}

const withheld = 'no code: it says a secret, which only people who can edit the list may see';

function sealed(stamp: Stamp, values: Values, columns: readonly Column[]): SealedSymbol {
  const content = contentOf(stamp, values);
  if (content.state === 'blank')
    return { symbol: null, reason: 'no code: a value it needs is blank' };
  if (content.state === 'wrong') return { symbol: null, reason: masked(content.reason) };
  try {
    const symbol = encode(stamp.symbology, content.payload, encodeOptionsOf(stamp));
    const { modules, payload, ...rest } = symbol;
    const expected = expectedRead(symbol, encodeOptionsOf(stamp)).text;
    return {
      symbol: {
        ...rest,
        // the text next to bars is their content
        hri: rest.hri?.map((h) => ({ ...h, text: '•'.repeat(Math.min(h.text.length, 12)) })),
        modules: Buffer.from(modules).toString('base64'),
        payload: maskPayload(String(payload), stamp, values, columns),
        readingHash: hashOf(expected),
      },
    };
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    return { symbol: null, reason: masked(error.message) };
  }

  /** Words about a value that is kept back do not quote it. */
  function masked(text: string): string {
    let out = text;
    for (const value of Object.values(values))
      if (value.trim().length > 1) out = out.split(value.trim()).join('••••••');
    return out.replace(/“[^”]*”/g, '“•••”');
  }
}
