import { sql, type Kysely } from 'kysely';

/**
 * PDFs that come in together, and by what each finds its record: from its name, its title, its
 * text.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table document_sets (
      id integer generated always as identity primary key,
      name text not null,
      created_by text not null,
      created_at timestamptz not null default now()
    );
    alter table documents add column set_id integer references document_sets on delete cascade;
    alter table documents add column name_keys text[] not null default '{}';
    alter table documents add column title_keys text[] not null default '{}';
    alter table documents add column text_keys text[] not null default '{}';
    create unique index documents_in_set on documents (set_id, name) where set_id is not null;
    create index documents_name_keys on documents using gin (name_keys);
    create index documents_title_keys on documents using gin (title_keys);
    create index documents_text_keys on documents using gin (text_keys);
  `,
    )
    .execute(db);
}
