import { randomBytes } from 'node:crypto';
import type { DeviceView } from '../../contract';
import { deviceCookie, deviceHash } from '../access';
import { clock, baseAddress, type Database, Refusal } from '../platform';

/** How long the code on the coordinator's screen lets a device join, in ms. */
const joinsFor = 15 * 60_000;
/** A device that was not heard for so long is away, in ms. */
const awayAfter = 40_000;

/** Creates a code with which one device can join, within a quarter of an hour. */
export async function addDevice(
  db: Database,
  checkpoint: number,
  { name, hours }: { name: string; hours: number },
  actor: string,
): Promise<{ id: number; address: string; until: string }> {
  const token = randomBytes(18).toString('base64url');
  const until = new Date(clock.now() + joinsFor);
  const there = await db
    .selectFrom('checkpoints')
    .select('id')
    .where('id', '=', checkpoint)
    .executeTakeFirst();
  if (!there) throw new Refusal('This checkpoint no longer exists. It may have been deleted.', 404);
  const { id } = await db
    .insertInto('checkpoint_devices')
    .values({
      checkpoint_id: checkpoint,
      name,
      joins: deviceHash(token),
      joins_until: until,
      ends_at: new Date(clock.now() + hours * 3_600_000),
      made_by: actor,
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  // after the number sign it is sent to no server and is in no log
  return { id, address: `${await baseAddress(db)}/k#${token}`, until: until.toISOString() };
}

/**
 * A device joins. @returns the cookie that it keeps @throws Refusal if the code was used, or is too
 * old
 */
export async function joinDevice(
  db: Database,
  token: string,
): Promise<{ checkpoint: number; cookie: string }> {
  const secret = randomBytes(24).toString('base64url');
  const row = await db
    .updateTable('checkpoint_devices')
    .set({
      secret: deviceHash(secret),
      joins: null,
      joins_until: null,
      joined_at: clock.date(),
      seen_at: clock.date(),
    })
    .where('joins', '=', deviceHash(token))
    .where('joins_until', '>', clock.date())
    .where('ends_at', '>', clock.date())
    .where('shut_at', 'is', null)
    .returning(['checkpoint_id', 'ends_at'])
    .executeTakeFirst();
  if (!row)
    throw new Refusal(
      'This code was already used, or is too old. Ask for a new one at the coordinator’s screen.',
      410,
    );
  const secure = (await baseAddress(db)).startsWith('https:') ? '; Secure' : '';
  const seconds = Math.max(1, Math.round((row.ends_at.getTime() - clock.now()) / 1000));
  return {
    checkpoint: row.checkpoint_id,
    cookie: `${deviceCookie}=${secret}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${seconds}${secure}`,
  };
}

/** Removes a device at once; the scans it sent stay. */
export async function shutDevice(db: Database, checkpoint: number, device: number): Promise<void> {
  const { numUpdatedRows } = await db
    .updateTable('checkpoint_devices')
    .set({ shut_at: clock.date(), joins: null })
    .where('id', '=', device)
    .where('checkpoint_id', '=', checkpoint)
    .where('shut_at', 'is', null)
    .executeTakeFirst();
  if (numUpdatedRows === 0n)
    throw new Refusal('This device was already removed. Reload the page.', 404);
}

export async function devicesOf(db: Database, checkpoint: number): Promise<DeviceView[]> {
  const rows = await db
    .selectFrom('checkpoint_devices')
    .selectAll()
    .where('checkpoint_id', '=', checkpoint)
    .orderBy('id', 'desc')
    .limit(200)
    .execute();
  const now = clock.now();
  return rows.flatMap((row): DeviceView[] => {
    const state = stateOf(row, now);
    // an unused code has no meaning
    if (row.joined_at === null && state !== 'asked') return [];
    return [
      {
        id: row.id,
        name: row.name,
        state,
        seen: row.seen_at?.toISOString() ?? null,
        ends: row.ends_at.toISOString(),
        waiting: row.waiting,
        clock: Math.round(-row.offset_ms / 1000),
      },
    ];
  });
}

function stateOf(
  row: {
    joined_at: Date | null;
    joins_until: Date | null;
    shut_at: Date | null;
    ends_at: Date;
    seen_at: Date | null;
  },
  now: number,
): DeviceView['state'] {
  if (row.shut_at) return 'shut';
  if (row.ends_at.getTime() <= now) return 'over';
  if (row.joined_at === null)
    return row.joins_until !== null && row.joins_until.getTime() > now ? 'asked' : 'over';
  return row.seen_at && now - row.seen_at.getTime() < awayAfter ? 'in-touch' : 'away';
}
