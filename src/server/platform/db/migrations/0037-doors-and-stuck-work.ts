import { sql, type Kysely } from 'kysely';

/**
 * A sign-in code counts once; what someone listens to ends with their session; a program that takes
 * nothing for days is told no more; a code that is there and needs a look is a code.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table used_codes (
      person_id text not null references people (id) on delete cascade,
      code_hash text not null,
      at timestamptz not null default now(),
      primary key (person_id, code_hash)
    );

    alter table job_rows add column drawn boolean not null default false;
    update job_rows set drawn = stamps_mark = 'ready';
    update lists set changes = changes + 1;

    alter table webhooks add column failing_since timestamptz, add column trouble text;

    create function tell_session_ended() returns trigger language plpgsql as $$
      begin
        perform pg_notify('hand_stamp_news', 'session:' || old.id);
        return null;
      end
    $$;
    create trigger sessions_news after delete on sessions
      for each row execute function tell_session_ended();
  `,
    )
    .execute(db);
}
