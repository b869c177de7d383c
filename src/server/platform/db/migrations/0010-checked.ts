import { sql, type Kysely } from 'kysely';

/** How far a checking is, for show only: whether it is done is told by the counts of changes. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table jobs rename column judging to checked`.execute(db);
  await sql`update jobs set checked = 0`.execute(db);
}
