import type { wantedSchema } from '../../contract';
import { createHash, randomBytes } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { sql } from 'kysely';
import type { z } from 'zod';
import { columnsOf, contentOf, type Stamp } from '../../core/payload/stamp';
import type { Values } from '../../core/records/columns';
import { imageFormats, type ImageFormat } from '../../core/run/outputs';
import { type Database, drawnCode, type DrawnCode, Refusal, oncePerProcess } from '../platform';
import { listKept, stampOf } from '../jobs';

/**
 * Gives records a web address for the picture of their code: the named ones; else those that never
 * had one, or all if none is left. A withdrawn address never comes back. Returns the number of new
 * ones.
 */
export async function giveAddresses(
  db: Database,
  jobId: number,
  stampId: string,
  actor: string,
  records?: readonly number[],
): Promise<number> {
  const { listId } = await stampOf(db, jobId, stampId);
  const { count } = await addressesOf(db, jobId, stampId, undefined);
  const named = records ? sql`and r.id = any(${[...records]}::bigint[])` : sql``;
  const any = records || count === 0 ? sql`and not a.withdrawn` : sql``;
  const missing = await sql<{ id: number }>`
    select id from records r where list_id = ${listId} ${named}
      and not exists (select 1 from code_addresses a
        where a.record_id = r.id and a.stamp = ${stampId} ${any})`.execute(db);
  const ids = missing.rows.map((r) => r.id);
  if (ids.length > 0)
    await sql`
      insert into code_addresses (token, list_id, record_id, stamp, created_by)
      select token, ${listId}::int, record, ${stampId}, ${actor}
        from unnest(${ids.map(() => randomBytes(18).toString('base64url'))}::text[],
        ${ids}::bigint[]) as n(token, record)
      on conflict do nothing`.execute(db);
  return ids.length;
}

/**
 * Withdraws the addresses of a stamp, all or those of some records: their pictures are no longer
 * served.
 */
export async function withdrawAddresses(
  db: Database,
  jobId: number,
  stampId: string,
  records?: readonly number[],
): Promise<void> {
  const { listId } = await stampOf(db, jobId, stampId);
  let query = db
    .updateTable('code_addresses')
    .set({ withdrawn: true })
    .where('list_id', '=', listId)
    .where('stamp', '=', stampId);
  if (records) query = query.where(sql<boolean>`record_id = any(${[...records]}::bigint[])`);
  await query.execute();
}

/** How many addresses a stamp has, and that of one record. */
export async function addressesOf(
  db: Database,
  jobId: number,
  stampId: string,
  record: number | undefined,
) {
  const { listId } = await stampOf(db, jobId, stampId);
  const rows = db
    .selectFrom('code_addresses')
    .where('list_id', '=', listId)
    .where('stamp', '=', stampId)
    .where('withdrawn', '=', false);
  const { count } = await rows
    .select((e) => e.fn.countAll<number>().as('count'))
    .executeTakeFirstOrThrow();
  const own =
    record === undefined
      ? undefined
      : await rows.select('token').where('record_id', '=', record).executeTakeFirst();
  return { count, token: own?.token ?? null };
}

/** Key and address of every record, to put into another spreadsheet. */
export async function addressRows(
  db: Database,
  jobId: number,
  stampId: string,
  base: string,
  ending: string,
  wanted: z.infer<typeof wantedSchema> = {},
): Promise<string[][]> {
  const query = new URLSearchParams(
    Object.entries(wanted).map(([k, v]) => [k, String(v)]),
  ).toString();
  const { listId, columns } = await stampOf(db, jobId, stampId);
  const key = columns.find((c) => c.role === 'key') ?? columns[0];
  const rows = await db
    .selectFrom('code_addresses')
    .innerJoin('records', 'records.id', 'code_addresses.record_id')
    .select(['token', sql<string>`coalesce(records.values->>${key?.id ?? ''}, '')`.as('key')])
    .where('code_addresses.list_id', '=', listId)
    .where('stamp', '=', stampId)
    .where('withdrawn', '=', false)
    .orderBy('position')
    .execute();
  return [
    [key?.name ?? 'Record', 'Code'],
    ...rows.map((r) => [r.key, `${base}/c/${r.token}.${ending}${query && `?${query}`}`]),
  ];
}

/** Dots across a picture that is given to strangers. */
const mostDots = 2000;

/**
 * Pictures that were drawn recently: a page that many people open draws each once. The key is what
 * they are drawn from, so an old one is never served.
 */
const drawings = oncePerProcess(
  'links.drawings',
  () => new LRUCache<string, Promise<DrawnCode | undefined>>({ max: 2000, ttl: 3600_000 }),
);

/**
 * New pictures that one network address gets in a minute. A page needs two or three; cached ones do
 * not count.
 */
const newPictures = new RateLimiterMemory({ points: 30, duration: 60 });

async function drawn(
  token: string,
  stamp: Stamp,
  values: Values,
  format: ImageFormat,
): Promise<DrawnCode | undefined> {
  const used = columnsOf(stamp).map((id) => values[id] ?? '');
  const key = createHash('sha256')
    .update(JSON.stringify([stamp, used, format]))
    .digest('base64');
  const known = drawings.get(key);
  if (known) return known;
  await newPictures.consume(token).catch(() => {
    throw new Refusal(
      'Too many different pictures were requested from this address. Try again in a minute.',
      429,
    );
  });
  const fresh = drawings.get(key) ?? drawnCode(stamp, values, format);
  drawings.set(key, fresh);
  fresh.catch(() => drawings.delete(key));
  return fresh;
}

/** What an address leads to, in one question. */
async function addressed(
  db: Database,
  token: string,
): Promise<{ withdrawn: boolean; values: Values; stamp: Stamp | null } | undefined> {
  const { rows } = await sql<{ withdrawn: boolean; values: Values; stamp: Stamp | null }>`
    select a.withdrawn, r.values,
      (select s from json_array_elements(l.stamps::json) s where s->>'id' = a.stamp) as stamp
    from code_addresses a join records r on r.id = a.record_id join lists l on l.id = a.list_id
      where a.token = ${token}`.execute(db);
  return rows[0];
}

/** The picture at an address. @throws Refusal if there is none, or it was withdrawn */
export async function codeAt(
  db: Database,
  name: string,
  wanted: z.infer<typeof wantedSchema>,
): Promise<{ bytes: Uint8Array; format: (typeof imageFormats)[number] }> {
  const [, token, ending] = /^([A-Za-z0-9_-]{20,40})\.(\w+)$/.exec(name) ?? [];
  const format = imageFormats.find((f) => f === (ending === 'jpg' ? 'jpeg' : ending));
  const row = token && (await addressed(db, token));
  if (!row || !format) throw new Refusal('There is no picture at this address. Check it.', 404);
  if (row.withdrawn)
    throw new Refusal('This picture was withdrawn. Ask the person who gave you its address.', 410);
  const { stamp } = row;
  if (!stamp || contentOf(stamp, row.values).state !== 'said')
    throw new Refusal(
      'This record has no code at the moment. Try again later, or ask the person who gave you this address.',
      404,
    );
  const kept =
    wanted.look === undefined
      ? undefined
      : (await listKept(db, 'look')).find((k) => k.id === wanted.look);
  if (wanted.look !== undefined && !kept)
    throw new Refusal(
      'The look in this address no longer exists. Use the address without a look.',
      404,
    );
  const own = kept?.document ?? stamp.look;
  const look = {
    ...own,
    ...(wanted.mm ? { sizeMm: wanted.mm, moduleDots: undefined } : {}),
    ...(wanted.dpi ? { dpi: wanted.dpi } : {}),
  };
  // anybody with the address may ask as often as they like, so drawing and reading back are limited
  // to what is quick
  const finest = Math.floor(mostDots / (look.sizeMm / 25.4));
  if (look.dpi > finest) {
    if (format === 'png' || format === 'jpeg')
      throw new Refusal(
        `At ${look.sizeMm} mm a picture has at most ${finest} dots per inch. Ask for fewer (dpi=${finest}), or for svg or pdf.`,
      );
    look.dpi = finest;
  }
  const made = await drawn(token, { ...stamp, look }, row.values, format);
  if (!made?.reads)
    throw new Refusal(
      'The code of this record does not read back, so it is not shown. Change its look in the stamp.',
      409,
    );
  return { bytes: made.bytes, format };
}

/**
 * The picture tokens of a stamp for some records of a list, by record. Records that never had one
 * get one now; a record whose address was withdrawn stays without.
 */
export async function givePictures(
  db: Database,
  list: number,
  stamp: string,
  records: readonly number[],
  actor: string,
): Promise<Map<number, string>> {
  await sql`
    insert into code_addresses (token, list_id, record_id, stamp, created_by)
    select n.token, r.list_id, r.id, ${stamp}, ${actor}
    from unnest(${records.map(() => randomBytes(18).toString('base64url'))}::text[],
      ${[...records]}::bigint[]) as n(token, record)
    join records r on r.id = n.record and r.list_id = ${list}
    where not exists (select from code_addresses a where a.record_id = r.id and a.stamp = ${stamp})
    on conflict do nothing`.execute(db);
  const rows = await db
    .selectFrom('code_addresses')
    .select(['record_id', 'token'])
    .where('stamp', '=', stamp)
    .where('withdrawn', '=', false)
    .where(sql<boolean>`record_id = any(${[...records]}::bigint[])`)
    .execute();
  return new Map(rows.map((row) => [row.record_id, row.token]));
}
