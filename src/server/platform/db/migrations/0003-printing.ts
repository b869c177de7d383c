import { sql, type Kysely } from 'kysely';

/**
 * Runs of other kinds than one PDF, pictures of lists, printers, letters of the Out-tray, and
 * addresses of codes as pictures.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table run_items add column name text;
    create table run_parts (
      run_id integer not null references runs on delete cascade,
      seq integer not null,
      part integer not null,
      name text not null,
      bytes bytea not null,
      primary key (run_id, seq, part)
    );
    alter table run_parts alter column bytes set storage external;
    create table list_pictures (
      list_id integer not null references lists on delete cascade,
      name text not null,
      picture json not null,
      primary key (list_id, name)
    );
    create table printers (
      id integer generated always as identity primary key,
      name text not null unique,
      dpi integer not null,
      offset_x real not null default 0,
      offset_y real not null default 0,
      finest_dots integer,
      created_at timestamptz not null default now()
    );
    create table print_jobs (
      id integer generated always as identity primary key,
      printer_id integer not null references printers on delete cascade,
      run_id integer references runs on delete cascade,
      name text not null,
      sheets integer not null,
      sent_at timestamptz not null default now(),
      stopped_at timestamptz
    );
    create table letters (
      id integer generated always as identity primary key,
      kind text not null,
      subject text not null,
      body text not null,
      run_id integer references runs on delete set null,
      job_id integer references jobs on delete cascade,
      written_at timestamptz not null default now()
    );
    create table code_addresses (
      token text primary key,
      list_id integer not null references lists on delete cascade,
      record_id bigint not null references records on delete cascade,
      stamp text not null,
      withdrawn boolean not null default false,
      created_by text not null,
      created_at timestamptz not null default now(),
      unique (record_id, stamp)
    );
    insert into printers (name, dpi) values ('Stand-in for office paper', 600), ('Stand-in for labels', 300);
  `,
    )
    .execute(db);
}
