import { sql, type Kysely } from 'kysely';

/** A picture address that was withdrawn stays so; its record may be given a new one. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table code_addresses drop constraint code_addresses_record_id_stamp_key`.execute(
    db,
  );
  await sql`create unique index code_addresses_live on code_addresses (record_id, stamp) where not withdrawn`.execute(
    db,
  );
}
