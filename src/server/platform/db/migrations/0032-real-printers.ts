import { sql, type Kysely } from 'kysely';

/**
 * Printers that are real, at an address, with what they say of themselves and how a job of theirs
 * stands. Jobs of stand-ins have no state: they print by the clock, or with faults, into the
 * In-tray.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table printers add column address text, add column facts jsonb, add column asked_at timestamptz, add column trouble text,
      add column faults text[] not null default '{}', add column into_tray boolean not null default false;
    alter table print_jobs add column state text, add column reason text not null default '', add column printed integer not null default 0,
      add column name_there text unique, add column job_there integer, add column began_at timestamptz, add column ended_at timestamptz,
      add column tries integer not null default 0, add column needs jsonb, add column anyway boolean not null default false,
      add column test_page boolean not null default false;
    create index print_jobs_printer on print_jobs (printer_id, id);
    create unique index print_jobs_on_the_way on print_jobs (printer_id, run_id) where state in ('waiting', 'sending', 'printing', 'held');
  `,
    )
    .execute(db);
}
