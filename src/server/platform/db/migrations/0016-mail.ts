import { sql, type Kysely } from 'kysely';

/**
 * Mails: what was handed to the mail server and what came of it. They outlive their run, so that
 * nobody gets one twice.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table mails (
      id bigint generated always as identity primary key,
      kind text not null check (kind in ('person', 'trial', 'notice')),
      job_id integer not null references jobs on delete cascade,
      run_id integer references runs on delete set null,
      seq integer,
      record_id bigint,
      title text not null,
      address text not null,
      subject text not null,
      state text not null check (state in ('waiting', 'handing', 'sent', 'refused', 'unsure', 'held', 'stopped')),
      reply text not null default '',
      tries integer not null default 0,
      due_at timestamptz not null default now(),
      ended_at timestamptz,
      handed_by uuid,
      again boolean not null default false,
      message bytea
    );
    alter table mails alter column message set storage external;
    create unique index mails_of_run on mails (run_id, kind, seq);
    create index mails_waiting on mails (run_id, due_at) where state in ('waiting', 'handing');
    create index mails_of_record on mails (job_id, record_id) where state in ('handing', 'sent', 'unsure');
    alter table runs add column mail_trouble text;
    create table mail_pace (one boolean primary key default true check (one), next_at timestamptz not null default now());
    insert into mail_pace default values;
  `,
    )
    .execute(db);
}
