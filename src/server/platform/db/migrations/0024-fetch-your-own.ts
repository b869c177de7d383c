import { sql, type Kysely } from 'kysely';

/** A page per job on which a person fetches what is theirs, by what only they know. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table own_pages (
      job_id integer primary key references jobs (id) on delete cascade,
      token text not null unique,
      document json not null,
      version integer not null default 1,
      fetched integer not null default 0,
      changed_by text not null,
      changed_at timestamptz not null default now()
    );
  `,
    )
    .execute(db);
}
