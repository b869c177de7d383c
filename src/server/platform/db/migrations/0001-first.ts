import { sql, type Kysely } from 'kysely';

/**
 * Lists with their records and revisions, jobs with their marks, runs with their receipts and
 * files.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  const run = (text: string) => sql.raw(text).execute(db);
  await run(`
    create table lists (
      id integer generated always as identity primary key,
      name text not null,
      columns jsonb not null,
      source text not null,
      revision integer not null default 1,
      created_by text not null,
      created_at timestamptz not null default now(),
      updated_at timestamptz not null default now()
    );
    create table records (
      id bigint generated always as identity primary key,
      list_id integer not null references lists on delete cascade,
      position integer not null,
      values json not null
    );
    create index records_by_place on records (list_id, position);
    create table revisions (
      list_id integer not null references lists on delete cascade,
      number integer not null,
      kind text not null,
      note text not null,
      created_by text not null,
      created_at timestamptz not null default now(),
      primary key (list_id, number)
    );
    create table changes (
      id bigint generated always as identity primary key,
      list_id integer not null references lists on delete cascade,
      edits json not null,
      undone boolean not null default false,
      created_by text not null,
      created_at timestamptz not null default now()
    );
    create index changes_by_list on changes (list_id, id);
    create table jobs (
      id integer generated always as identity primary key,
      name text not null,
      list_id integer not null references lists on delete cascade,
      document jsonb not null,
      version integer not null default 1,
      judging integer not null default 0,
      created_by text not null,
      created_at timestamptz not null default now(),
      updated_at timestamptz not null default now()
    );
    create table job_versions (
      job_id integer not null references jobs on delete cascade,
      version integer not null,
      document jsonb not null,
      created_by text not null,
      created_at timestamptz not null default now(),
      primary key (job_id, version)
    );
    create table intakes (
      id integer generated always as identity primary key,
      file_name text not null,
      bytes bytea not null,
      state text not null,
      error text,
      preview json,
      take json,
      job_id integer references jobs on delete cascade,
      created_by text not null,
      created_at timestamptz not null default now()
    );
    alter table intakes alter column bytes set storage external;
    create table job_rows (
      job_id integer not null references jobs on delete cascade,
      record_id bigint not null references records on delete cascade,
      position integer not null,
      records_mark text not null,
      stamps_mark text not null,
      piece_mark text not null,
      overall text not null,
      notes json not null,
      run_mark text,
      run_id integer,
      run_page integer,
      run_place integer,
      primary key (job_id, record_id)
    );
    create index job_rows_by_place on job_rows (job_id, position, record_id);
    create index job_rows_by_mark on job_rows (job_id, overall, position, record_id);
    create table runs (
      id integer generated always as identity primary key,
      job_id integer not null references jobs on delete cascade,
      name text not null,
      state text not null,
      frozen jsonb not null,
      pieces integer not null,
      sheets integer not null,
      codes integer not null default 0,
      codes_read integer not null default 0,
      codes_failed integer not null default 0,
      pieces_made integer not null default 0,
      left_out json not null,
      error text,
      created_by text not null,
      created_at timestamptz not null default now(),
      started_at timestamptz,
      finished_at timestamptz
    );
    create index runs_by_job on runs (job_id, id);
    create table run_items (
      run_id integer not null references runs on delete cascade,
      seq integer not null,
      record_id bigint not null,
      values json not null,
      primary key (run_id, seq)
    );
    create table run_chunks (
      run_id integer not null references runs on delete cascade,
      number integer not null,
      done boolean not null default false,
      glyphs json,
      primary key (run_id, number)
    );
    create table run_pages (
      run_id integer not null references runs on delete cascade,
      page integer not null,
      content bytea not null,
      primary key (run_id, page)
    );
    alter table run_pages alter column content set storage external;
    create table receipts (
      run_id integer not null references runs on delete cascade,
      seq integer not null,
      stamp text not null,
      record_id bigint not null,
      title text not null,
      key text not null,
      payload text not null,
      page integer not null,
      place integer not null,
      result text not null,
      read_text text,
      primary key (run_id, seq, stamp)
    );
    create index receipts_by_record on receipts (record_id);
    create table files (
      id integer generated always as identity primary key,
      run_id integer not null references runs on delete cascade,
      name text not null,
      mime text not null,
      size bigint not null,
      expires_at timestamptz,
      created_at timestamptz not null default now()
    );
    create table file_pieces (
      file_id integer not null references files on delete cascade,
      number integer not null,
      bytes bytea not null,
      primary key (file_id, number)
    );
    alter table file_pieces alter column bytes set storage external;
    create table workers (id text primary key, seen_at timestamptz not null);
    create table settings (name text primary key, value text not null);
  `);
}
