import { sql, type Kysely } from 'kysely';

/**
 * The paper itself read back: which codes of a run were read from pictures of its printed sheets,
 * and what else was on those.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table receipts add column paper_at timestamptz;
    create table paper_pictures (
      id integer primary key generated always as identity,
      run_id integer not null references runs (id) on delete cascade,
      name text not null,
      found integer not null,
      other integer not null,
      pages integer[] not null,
      made_by text not null,
      created_at timestamptz not null default now()
    );
    create index paper_pictures_run on paper_pictures (run_id);
  `,
    )
    .execute(db);
}
