import { sql, type Kysely } from 'kysely';

/**
 * What was doubtful about a cell when its file was read lasts as long as the value does; a person's
 * answers to a re-read wait with it.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table records add column doubts json`.execute(db);
  await sql`alter table intakes add column same json`.execute(db);
}
