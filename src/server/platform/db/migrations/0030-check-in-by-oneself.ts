import { sql, type Kysely } from 'kysely';

/** People check in by themselves, on a page of their own with questions. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table checkpoints add column by_oneself json;
    alter table checkpoint_scans drop constraint checkpoint_scans_how_check;
    alter table checkpoint_scans add constraint checkpoint_scans_how_check
      check (how in ('camera', 'reader', 'picture', 'hand', 'page'));
  `,
    )
    .execute(db);
}
