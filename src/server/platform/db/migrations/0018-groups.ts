import { sql, type Kysely } from 'kysely';

/**
 * A document for several records: those that it is for besides the one it is made by, each with
 * what it said of them.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql.raw(`alter table run_items add column members jsonb`).execute(db);
}
