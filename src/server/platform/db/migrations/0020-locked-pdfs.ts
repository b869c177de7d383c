import { sql, type Kysely } from 'kysely';

/** Documents that open with a password, and that password, sealed. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql.raw(`alter table documents add column password text`).execute(db);
}
