import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import { counted } from '../../core/base/words';
import { clock, type Database, Refusal } from '../platform';

/** How long a try is remembered, in minutes. */
const minutes = 15;

const keyOf = (kind: string, of: string): string =>
  createHash('sha256').update(`${kind}\0${of}`).digest('hex');

/** A try that was counted. */
export interface Try {
  /** Takes this one back: it was right. */
  back(): Promise<void>;
  /** Forgets all of its kind. */
  forgive(): Promise<void>;
}

/**
 * Counts a try before it is made, so that many at once count like one after the other. It makes no
 * difference whether the name is known.
 * @param most tries in a quarter of an hour
 * @throws Refusal 429, with the minutes to wait
 */
export async function takeTry(db: Database, kind: string, of: string, most: number): Promise<Try> {
  const key = keyOf(kind, of);
  const wait = await db.transaction().execute(async (tx) => {
    await sql`select pg_advisory_xact_lock(hashtextextended(${key}, 0))`.execute(tx);
    await tx
      .deleteFrom('tries')
      .where('key', '=', key)
      .where('at', '<', sql<Date>`now() - ${minutes} * interval '1 minute'`)
      .execute();
    const minutesLeft = await waitFor(tx, key, most);
    if (minutesLeft === 0) await tx.insertInto('tries').values({ key }).execute();
    return minutesLeft;
  });
  refuse(wait);
  return {
    back: async () => {
      await sql`delete from tries where ctid =
        (select ctid from tries where key = ${key} order by at desc limit 1)`.execute(db);
    },
    forgive: async () => {
      await db.deleteFrom('tries').where('key', '=', key).execute();
    },
  };
}

/** Deletes expired tries; done once a minute. */
export async function forgetOldTries(db: Database): Promise<void> {
  await db
    .deleteFrom('tries')
    .where('at', '<', sql<Date>`now() - ${minutes} * interval '1 minute'`)
    .execute();
}

/** How often it was tried in the last quarter of an hour. */
export async function triesOf(db: Database, kind: string, of: string): Promise<number> {
  const { n } = await db
    .selectFrom('tries')
    .select((e) => e.fn.countAll<number>().as('n'))
    .where('key', '=', keyOf(kind, of))
    .where('at', '>', sql<Date>`now() - ${minutes} * interval '1 minute'`)
    .executeTakeFirstOrThrow();
  return n;
}

/** @throws Refusal 429 after so many tries, without counting one more */
export async function checkTries(
  db: Database,
  kind: string,
  of: string,
  most: number,
): Promise<void> {
  refuse(await waitFor(db, keyOf(kind, of), most));
}

/** Minutes to wait; 0 if there were fewer than `most`. */
async function waitFor(db: Database, key: string, most: number): Promise<number> {
  const { n, first } = await db
    .selectFrom('tries')
    .select((e) => [e.fn.countAll<number>().as('n'), e.fn.min('at').as('first')])
    .where('key', '=', key)
    .where('at', '>', sql<Date>`now() - ${minutes} * interval '1 minute'`)
    .executeTakeFirstOrThrow();
  if (n < most) return 0;
  const since = first === null ? clock.now() : first.getTime();
  return Math.max(1, Math.ceil((since + minutes * 60_000 - clock.now()) / 60_000));
}

function refuse(wait: number): void {
  if (wait > 0)
    throw new Refusal(
      `Too many attempts. Wait ${counted(wait, 'minute', 'minutes')}, then try again.`,
      429,
    );
}

const turns = new Map<string, Promise<unknown>>();

/**
 * Does one thing after the other for one place, so that many wrong answers at once are seen one by
 * one, and right ones need not be counted.
 */
export function inTurn<T>(of: string, work: () => Promise<T>): Promise<T> {
  const before = turns.get(of) ?? Promise.resolve();
  const mine = before.then(work, work);
  const settled = mine.then(
    () => undefined,
    () => undefined,
  );
  turns.set(of, settled);
  void settled.then(() => turns.get(of) === settled && turns.delete(of));
  return mine;
}
