import { sql, type Kysely } from 'kysely';

/**
 * Scans of printed sheets that came as files: with a run, or into the In-tray, where a file is one
 * by its path and when it was saved.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table paper_files (
      id integer primary key generated always as identity,
      run_id integer references runs (id) on delete cascade,
      name text not null,
      bytes bytea,
      tray_path text,
      tray_stamp text,
      state text not null default 'waiting' check (state in ('waiting', 'read', 'failed')),
      error text,
      told jsonb,
      made_by text not null,
      created_at timestamptz not null default now(),
      unique (tray_path, tray_stamp)
    );
    create index paper_files_run on paper_files (run_id);
    alter table paper_pictures add column marks jsonb not null default '{"misplaced": [], "others": []}',
      add column shows text;
    create unique index paper_pictures_shows on paper_pictures (run_id, shows);
  `,
    )
    .execute(db);
}
