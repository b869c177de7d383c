import { createHash } from 'node:crypto';
import { clock, type Database, Refusal } from '../platform';

/** A phone or a scanner's computer at a checkpoint: it has a right to that alone. */
export interface Device {
  id: number;
  checkpoint: number;
  name: string;
}

/** The cookie that identifies a device. */
export const deviceCookie = 'hand-stamp.device';

export const deviceHash = (secret: string): string =>
  createHash('sha256').update(secret).digest('hex');

/**
 * How long a device counts as online after it was heard, and so how exactly that time is stored, in
 * seconds.
 */
const heardFor = 5;

/**
 * The device that sent a request, by its cookie.
 * @throws Refusal 401 if there is no cookie, the device was removed or its time is over; 403 if it
 *   belongs to another checkpoint
 */
export async function deviceAsking(
  db: Database,
  headers: Headers,
  checkpoint: number | undefined,
): Promise<Device> {
  const secret = (headers.get('cookie') ?? '')
    .split(/;\s*/)
    .find((pair) => pair.startsWith(`${deviceCookie}=`))
    ?.slice(deviceCookie.length + 1);
  const row =
    secret === undefined
      ? undefined
      : await db
          .selectFrom('checkpoint_devices')
          .select(['id', 'checkpoint_id', 'name', 'ends_at', 'shut_at', 'seen_at'])
          .where('secret', '=', deviceHash(secret))
          .executeTakeFirst();
  if (!row)
    throw new Refusal(
      'This device has not joined. Scan the code on the coordinator’s screen with it.',
      401,
    );
  if (row.shut_at !== null)
    throw new Refusal(
      'This device was removed from the checkpoint. Ask the coordinator to add it again.',
      401,
    );
  if (row.ends_at.getTime() <= clock.now())
    throw new Refusal(
      'The time for this device is over. Ask the coordinator to add it again.',
      401,
    );
  if (row.checkpoint_id !== checkpoint)
    throw new Refusal(
      'This device is for another checkpoint. Scan the code on this checkpoint’s screen with it.',
      403,
    );
  const now = clock.now();
  if (row.seen_at === null || now - row.seen_at.getTime() > heardFor * 1000)
    await db
      .updateTable('checkpoint_devices')
      .set({ seen_at: new Date(now) })
      .where('id', '=', row.id)
      .execute();
  return { id: row.id, checkpoint: row.checkpoint_id, name: row.name };
}
