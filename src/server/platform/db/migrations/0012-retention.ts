import { sql, type Kysely } from 'kysely';

/** Files of a run that were kept long enough are taken away; the run says since when. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table runs add column files_gone_at timestamptz`.execute(db);
  await sql`alter table files drop column expires_at`.execute(db);
  await sql`create index runs_by_end on runs (finished_at) where files_gone_at is null`.execute(db);
}
