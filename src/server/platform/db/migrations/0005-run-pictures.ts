import { sql, type Kysely } from 'kysely';

/**
 * Pictures are frozen with a run, so that the same run gives the same bytes after a picture of the
 * list was replaced.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table run_pictures (
      run_id integer not null references runs on delete cascade,
      name text not null,
      picture json not null,
      primary key (run_id, name)
    );
    insert into run_pictures (run_id, name, picture)
      select r.id, p.name, p.picture from runs r join jobs j on j.id = r.job_id join list_pictures p on p.list_id = j.list_id;
  `,
    )
    .execute(db);
}
