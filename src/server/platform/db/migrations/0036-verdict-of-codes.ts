import { sql, type Kysely } from 'kysely';

/**
 * Beside the verdict on a record's piece there is one on its codes alone. Every list is judged once
 * more: what fits a symbology is judged more strictly than before.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table job_rows add column codes text not null default 'out';
    update job_rows set codes = overall;
    create index job_rows_by_codes on job_rows (job_id, codes, position, record_id);
    update lists set changes = changes + 1;
  `,
    )
    .execute(db);
}
