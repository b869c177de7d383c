import { createHash, randomBytes } from 'node:crypto';
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';
import { keyPrefix, type KeyRight } from '../../core/access/keys';
import type { KeyView } from '../../contract';
import { clock, type Database, Refusal } from '../platform';
import type { Belonging } from './things';

/** A program, identified by its key. */
export interface Caller {
  id: number;
  name: string;
  rights: readonly KeyRight[];
  /** Its only list; null for all. */
  list: number | null;
}

const hashOf = (key: string): string => createHash('sha256').update(key).digest('hex');
const today = (): string => {
  const now = clock.date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
};

const columns = [
  'api_keys.id',
  'api_keys.name',
  'api_keys.ending',
  'api_keys.rights',
  'api_keys.ends',
  'api_keys.used_at',
  'api_keys.made_by',
  'api_keys.created_at',
  'lists.id as list',
  'lists.name as list_name',
] as const;

export async function listKeys(db: Database): Promise<KeyView[]> {
  const rows = await db
    .selectFrom('api_keys')
    .leftJoin('lists', 'lists.id', 'api_keys.list_id')
    .select(columns)
    .orderBy('api_keys.id', 'desc')
    .execute();
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    ending: row.ending,
    rights: row.rights,
    list: row.list === null ? null : { id: row.list, name: row.list_name! },
    ends: row.ends,
    used: row.used_at?.toISOString() ?? null,
    by: row.made_by,
    at: row.created_at.toISOString(),
  }));
}

/** Creates an API key: 256 random bits, returned this once and stored as a hash. */
export async function makeKey(
  db: Database,
  wanted: { name: string; rights: KeyRight[]; list: number | null; ends: string | null },
  by: string,
): Promise<{ key: string; view: KeyView }> {
  if (wanted.ends !== null && wanted.ends < today())
    throw new Refusal('That day is in the past. Choose a later day, or none.');
  const key = keyPrefix + randomBytes(32).toString('base64url');
  const { id } = await db
    .insertInto('api_keys')
    .values({
      name: wanted.name,
      hash: hashOf(key),
      ending: key.slice(-4),
      rights: [...new Set(wanted.rights)],
      list_id: wanted.list,
      ends: wanted.ends,
      made_by: by,
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  return { key, view: (await listKeys(db)).find((k) => k.id === id)! };
}

export async function endKey(db: Database, id: number): Promise<string> {
  const row = await db
    .deleteFrom('api_keys')
    .where('id', '=', id)
    .returning('name')
    .executeTakeFirst();
  if (!row) throw new Refusal('This API key no longer exists. It may have been revoked.', 404);
  return row.name;
}

/** Requests of one key in a minute, in each web server. */
const perMinute = 600;
const limiter = new RateLimiterMemory({ points: perMinute, duration: 60 });

/**
 * The program whose key a request carries.
 * @throws Refusal 401 without a valid key, 403 if the key may not do this, 404 if it is for another
 *   list, 429 if it asks too often
 */
export async function callerOf(
  db: Database,
  request: Request,
  right: KeyRight,
  where: () => Promise<Belonging>,
  aboutThing: boolean,
  headers: Headers,
): Promise<Caller> {
  const given = /^Bearer (\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1];
  const row = given?.startsWith(keyPrefix)
    ? await db
        .selectFrom('api_keys')
        .selectAll()
        .where('hash', '=', hashOf(given))
        .executeTakeFirst()
    : undefined;
  if (!row || (row.ends !== null && row.ends < today())) {
    headers.set('www-authenticate', 'Bearer realm="Hand Stamp"');
    throw new Refusal(
      given
        ? 'This API key is wrong, expired or revoked. Ask an administrator for a new one.'
        : 'Send an API key: “Authorization: Bearer” and the key. An administrator creates keys in Settings.',
      401,
    );
  }
  const left = await limiter.consume(row.id).catch((over: unknown) => {
    if (over instanceof RateLimiterRes) return over;
    throw over;
  });
  const seconds = Math.ceil(left.msBeforeNext / 1000);
  headers.set('ratelimit-limit', String(perMinute));
  headers.set('ratelimit-remaining', String(Math.max(0, left.remainingPoints)));
  headers.set('ratelimit-reset', String(seconds));
  if (left.consumedPoints > perMinute)
    throw new Refusal(
      `This API key sends too many requests. Try again in ${seconds} seconds.`,
      429,
    );
  if (!row.rights.includes(right))
    throw new Refusal(`This API key may not do that. It needs “${right}”.`, 403);
  if (row.list_id !== null && aboutThing && (await where()).list !== row.list_id)
    throw new Refusal('This no longer exists. It may have been deleted.', 404);
  if (!row.used_at || clock.now() - row.used_at.getTime() > 60_000)
    await db
      .updateTable('api_keys')
      .set({ used_at: clock.date() })
      .where('id', '=', row.id)
      .execute();
  return { id: row.id, name: row.name, rights: row.rights, list: row.list_id };
}
