import { sql } from 'kysely';
import type { Other } from '../../contract';
import type { Database } from '../platform';
import type { Person } from './who';

/** A window that has reported nothing for so long is gone, in seconds. */
const gone = 25;

const told = (db: Database, job: number) =>
  sql`select pg_notify('hand_stamp_news', ${`here:${job}`})`.execute(db);

/**
 * A window reports which job and record somebody has open, or that they left; the others hear what
 * is new in it.
 */
export async function sayHere(
  db: Database,
  job: number,
  person: Pick<Person, 'id'>,
  { window, record, leaves = false }: { window: string; record: number | null; leaves?: boolean },
): Promise<void> {
  if (leaves) {
    await db
      .deleteFrom('presence')
      .where('window_id', '=', window)
      .where('person_id', '=', person.id)
      .execute();
    await told(db, job);
    return;
  }
  const { rows } = await sql<{ news: boolean }>`
    with before as (select job_id, record_id, seen_at from presence where window_id = ${window}),
    put as (insert into presence (window_id, job_id, person_id, record_id, seen_at)
      values (${window}, ${job}, ${person.id}, ${record}, now())
      on conflict (window_id)
        do update set job_id = excluded.job_id, record_id = excluded.record_id, seen_at = now()
        where presence.person_id = excluded.person_id)
    select not exists (select from before
      where job_id = ${job} and record_id is not distinct from ${record}::int
      and seen_at > now() - ${gone} * interval '1 second') as news`.execute(db);
  if (rows[0]?.news) await told(db, job);
}

/** The other people who have a job open, in windows that were heard of lately. */
export async function whoIsHere(
  db: Database,
  job: number,
  person: Pick<Person, 'id'>,
  window: string,
): Promise<Other[]> {
  const rows = await db
    .selectFrom('presence')
    .innerJoin('people', 'people.id', 'presence.person_id')
    .leftJoin('records', 'records.id', 'presence.record_id')
    .select(['people.id', 'people.name', 'records.id as record', 'records.position'])
    .where('job_id', '=', job)
    .where('window_id', '!=', window)
    .where('seen_at', '>', sql<Date>`now() - ${gone} * interval '1 second'`)
    .orderBy('people.name')
    .limit(20)
    .execute();
  return rows.map((row) => ({
    name: row.name,
    oneself: row.id === person.id,
    record: row.record,
    number: row.position === null ? null : row.position + 1,
  }));
}

/** Windows that closed without a word. */
export const forgetTheGone = (db: Database) =>
  db
    .deleteFrom('presence')
    .where('seen_at', '<', sql<Date>`now() - interval '1 hour'`)
    .execute();
