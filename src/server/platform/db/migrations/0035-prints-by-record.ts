import { sql, type Kysely } from 'kysely';

/**
 * What records are weighed by is kept once for each of them; two indexes do where three were, which
 * is most of the work of keeping it.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table prints drop constraint prints_pkey;
    alter table prints drop constraint prints_list_id_fkey;
    drop index prints_by_record;
    alter table prints add primary key (record_id, what);
  `,
    )
    .execute(db);
}
