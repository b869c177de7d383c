import { sql, type Kysely } from 'kysely';

/**
 * What was worked out says what it was worked out from: `changes` counts whatever verdicts depend
 * on, `judged` is the count they were last worked out from. They are fresh only where the two are
 * the same.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table lists add column changes integer not null default 1, add column judged integer not null default 0`.execute(
    db,
  );
  await sql`alter table jobs add column changes integer not null default 1, add column judged integer not null default 0`.execute(
    db,
  );
  // what stood finished before stays so
  await sql`update lists set judged = 1 where working = 0 and not exists (select 1 from jobs where list_id = lists.id and judging > 0)`.execute(
    db,
  );
  await sql`update jobs set judged = 1 where judging = 0`.execute(db);
}
