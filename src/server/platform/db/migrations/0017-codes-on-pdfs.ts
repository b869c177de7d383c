import { sql, type Kysely } from 'kysely';

/** A PDF finds its record by a code that stands on it already, too. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table documents add column code_keys text[] not null default '{}';
    create index documents_code_keys on documents using gin (code_keys);
  `,
    )
    .execute(db);
}
