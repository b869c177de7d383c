import { sql, type Kysely } from 'kysely';

/**
 * Indexes on what refers to records, lists, jobs and runs, without which throwing away a long list
 * reads whole tables for every record.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create index job_rows_by_record on job_rows (record_id);
    create index jobs_by_list on jobs (list_id);
    create index intakes_by_list on intakes (list_id);
    create index intakes_by_job on intakes (job_id);
    create index files_by_run on files (run_id);
    create index letters_by_run on letters (run_id);
    create index letters_by_job on letters (job_id);
    create index print_jobs_by_run on print_jobs (run_id);
    create index print_jobs_by_printer on print_jobs (printer_id);
    create index code_addresses_by_list on code_addresses (list_id);
  `,
    )
    .execute(db);
}
