import { sql, type Kysely } from 'kysely';

/**
 * Databases are connected to encrypted; those known before stay as they were. Addresses that are to
 * be asked wait in a table, so that two workers never ask the same one. And indexes that foreign
 * keys lacked.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql`alter table connections add column tls text not null default 'no'`.execute(db);
  await sql`create table door_asks (
    job_id integer not null references jobs on delete cascade, stamp text not null, address text not null,
    primary key (job_id, stamp, address))`.execute(db);
  await sql`create index code_addresses_by_record on code_addresses (record_id)`.execute(db);
}
