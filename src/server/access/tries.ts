import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import { counted } from '../../core/base/words';
import { clock, type Database, Refusal } from '../platform';

/** How long a try is remembered, in minutes. */
const minutes = 15;

const keyOf = (kind: string, of: string): string =>
  createHash('sha256').update(`${kind}\0${of}`).digest('hex');

/**
 * Counts a try before it is made, so that many at once are no more than the same one after the
 * other. Whether there is anybody of that name makes no difference.
 * @param most tries in a quarter of an hour
 * @throws Refusal 429, with the minutes to wait
 */
export async function takeTry(
  db: Database,
  kind: string,
  of: string,
  most: number,
): Promise<() => Promise<void>> {
  const key = keyOf(kind, of);
  const wait = await db.transaction().execute(async (tx) => {
    await sql`select pg_advisory_xact_lock(hashtextextended(${key}, 0))`.execute(tx);
    await tx
      .deleteFrom('tries')
      .where('key', '=', key)
      .where('at', '<', sql<Date>`now() - ${minutes} * interval '1 minute'`)
      .execute();
    const { n, first } = await tx
      .selectFrom('tries')
      .select((e) => [e.fn.countAll<number>().as('n'), e.fn.min('at').as('first')])
      .where('key', '=', key)
      .executeTakeFirstOrThrow();
    if (n >= most) return Math.ceil((first.getTime() + minutes * 60_000 - clock.now()) / 60_000);
    await tx.insertInto('tries').values({ key }).execute();
    return 0;
  });
  if (wait > 0)
    throw new Refusal(
      `There were too many tries. Wait ${counted(Math.max(1, wait), 'minute', 'minutes')} and try it again.`,
      429,
    );
  return async () => void (await db.deleteFrom('tries').where('key', '=', key).execute());
}
