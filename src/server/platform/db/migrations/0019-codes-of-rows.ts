import { sql, type Kysely } from 'kysely';

/**
 * A document may bear the codes of many rows: which of those of its stamp a line is about, from 1;
 * 0 for that of the record itself.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `alter table receipts add column nth integer not null default 0;
       alter table receipts drop constraint receipts_pkey;
       alter table receipts add primary key (run_id, seq, stamp, nth);`,
    )
    .execute(db);
}
