import { sql, type RawBuilder } from 'kysely';
import { addressKey, addressTrouble } from '../../core/mail/address';
import type { Mail } from '../../core/mail/mail';
import type { Output } from '../../core/run/outputs';
import { titleColumn, type Column } from '../../core/records/columns';
import type { SheetProof } from '../../contract';
import type { Database } from '../platform';
import { hadMail } from '../delivery';

/**
 * Who of the chosen gets no mail, each with why, and addresses that several of the others share.
 */
export interface Addressed {
  without: Map<number, string>;
  shared: SheetProof['shared'];
}

const told = 50;

/** @param chosen the pieces of a run, as {@link chosenItems} gives them */
export async function addressed(
  db: Database,
  jobId: number,
  columns: readonly Column[],
  mail: Mail,
  output: Output,
  chosen: RawBuilder<unknown>,
): Promise<Addressed> {
  const none: Addressed = { without: new Map(), shared: { records: 0, first: [] } };
  // a test email may be sent as often as one likes
  if (output.instead !== undefined) return none;
  const title = titleColumn(columns)?.id ?? '';
  const { rows } = await sql<{ record: number; address: string; title: string }>`
    select record_id as record, coalesce(values->>${mail.to ?? ''}, '') as address,
      coalesce(values->>${title}, '') as title
    from (${chosen}) c order by seq`.execute(db);
  const had = new Map(
    output.again ? [] : (await hadMail(db, jobId)).map(({ record, at }) => [record, at]),
  );
  const by = new Map<string, { address: string; titles: string[] }>();
  for (const { record, address, title: name } of rows) {
    const trouble = addressTrouble(address);
    if (had.has(record)) none.without.set(record, 'already had an email from this job');
    else if (trouble) none.without.set(record, trouble);
    else {
      const key = addressKey(address);
      const same = by.get(key) ?? { address: address.trim(), titles: [] };
      same.titles.push(name);
      by.set(key, same);
    }
  }
  const shared = [...by.values()].filter((one) => one.titles.length > 1);
  return {
    without: none.without,
    shared: {
      records: shared.reduce((n, one) => n + one.titles.length, 0),
      first: shared.slice(0, told).map((one) => ({ ...one, titles: one.titles.slice(0, 20) })),
    },
  };
}

/** The chosen pieces without those of some records, numbered again. */
export const withoutRecords = (
  chosen: RawBuilder<unknown>,
  records: ReadonlyMap<number, string>,
): RawBuilder<unknown> =>
  records.size === 0
    ? chosen
    : sql`select (row_number() over (order by seq) - 1)::int as seq, record_id, values, content
        from (${chosen}) c where record_id <> all(${[...records.keys()]}::bigint[])`;
