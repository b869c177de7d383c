import { sql, type Kysely } from 'kysely';

/** Documents that pieces are put on: kept as they came in, in pieces, and never changed. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table documents (
      id integer generated always as identity primary key,
      kind text not null,
      name text not null,
      size integer not null,
      hash text not null,
      facts json not null,
      created_by text not null,
      created_at timestamptz not null default now()
    );
    create index documents_hash on documents (hash);
    create table document_pieces (
      document_id integer not null references documents on delete cascade,
      number integer not null,
      bytes bytea not null,
      primary key (document_id, number)
    );
    alter table document_pieces alter column bytes set storage external;
  `,
    )
    .execute(db);
}
