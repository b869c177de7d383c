import { sql } from 'kysely';
import { addressKinds } from '../../core/records/beginnings';
import type { z } from 'zod';
import type { AddressesEffect, addressesChangeSchema, AddressesView } from '../../contract';
import { type Database, ourAddresses, Refusal, writeAddresses } from '../platform';
import { changed } from '../judging';
import { workOutAll } from '../lists';

type Wanted = z.output<typeof addressesChangeSchema>;

/** Under which addresses this installation is reached. */
export async function viewOurAddresses(db: Database): Promise<AddressesView> {
  const { base, links, from, former } = await ourAddresses(db);
  return { base, links, own: links !== base, from, former };
}

/** Both addresses as they will be, blank if not set. */
const withWhatStays = (
  { base, links }: Wanted,
  now: Awaited<ReturnType<typeof ourAddresses>>,
): { base: string; links: string } => ({
  base: base ?? (now.from === 'settings' ? now.base : ''),
  links: links ?? (now.links === now.base ? '' : now.links),
});

/** Lists whose records contain our addresses. */
const listsWithAddresses = (db: Database) =>
  db
    .selectFrom('lists')
    .select('id')
    .where(
      sql<boolean>`exists (select from jsonb_array_elements(columns) c
        where c->'worked'->'source'->>'kind' = any(${addressKinds}))`,
    )
    .orderBy('id')
    .execute();

/**
 * The effect of other addresses: which printed codes contain one that would no longer be in use.
 */
export async function effectOfAddresses(db: Database, change: Wanted): Promise<AddressesEffect> {
  const now = await ourAddresses(db);
  const wanted = withWhatStays(change, now);
  const base = now.from === 'start' ? now.base : wanted.base || now.base;
  const next = new Set([base, wanted.links || base]);
  const leaving = [...new Set([now.base, now.links])].filter((origin) => !next.has(origin));
  const printed = [];
  for (const origin of leaving) {
    const begins = `${origin.toLowerCase()}/`;
    const { rows } = await sql<{ job: number; name: string; records: number }>`
      select j.id as job, j.name, count(distinct c.record_id)::int as records
      from receipts c join runs r on r.id = c.run_id join jobs j on j.id = r.job_id
      where lower(left(c.payload, ${begins.length})) = ${begins} and r.kind = 'job' group by j.id
        order by j.name`.execute(db);
    printed.push(...rows.map((row) => ({ ...row, origin })));
  }
  const { links } = await db
    .selectFrom('links')
    .select((e) => e.fn.countAll<number>().as('links'))
    .where('state', '<>', 'withdrawn')
    .executeTakeFirstOrThrow();
  const { pictures } = await db
    .selectFrom('code_addresses')
    .select((e) => e.fn.countAll<number>().as('pictures'))
    .where('withdrawn', '=', false)
    .executeTakeFirstOrThrow();
  return {
    printed,
    links: leaving.includes(now.links) ? links : 0,
    pictures: leaving.includes(now.base) ? pictures : 0,
  };
}

/**
 * Sets other addresses at once. Records that contain one are calculated again; that is queued in
 * the same transaction.
 * @throws Refusal if the start command sets the base
 */
export async function changeOurAddresses(db: Database, wanted: Wanted): Promise<AddressesView> {
  const now = await ourAddresses(db);
  if (now.from === 'start' && wanted.base && wanted.base !== now.base)
    throw new Refusal(
      `The address ${now.base} is set where Hand Stamp is started (HAND_STAMP_URL). Ask an administrator of that server to change it.`,
      409,
    );
  const lists = await db.transaction().execute(async (tx) => {
    await sql`select pg_advisory_xact_lock(7422)`.execute(tx);
    await writeAddresses(tx, withWhatStays(wanted, await ourAddresses(tx)));
    const found = await listsWithAddresses(tx);
    for (const { id } of found) await changed(tx, id, true);
    return found;
  });
  for (const { id } of lists) await workOutAll(db, id);
  return viewOurAddresses(db);
}
