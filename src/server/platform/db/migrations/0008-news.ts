import { sql, type Kysely } from 'kysely';

/**
 * Changes are told to every open window: the tables themselves say so, whoever changes them. And
 * what was undone is known with its time, for a job's own document too, so that undoing follows the
 * order of what was done.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    alter table revisions add column undone_at timestamptz;
    alter table job_versions add column kind text not null default 'change';
    alter table job_versions add column undone_at timestamptz;
    alter table job_versions add column dropped boolean not null default false;

    create function tell_news() returns trigger language plpgsql as $$
    begin
      if tg_table_name = 'lists' then perform pg_notify('hand_stamp_news', 'list:' || new.id);
      elsif tg_table_name = 'jobs' then perform pg_notify('hand_stamp_news', 'job:' || new.id);
      elsif tg_table_name = 'intakes' then
        if new.list_id is not null then perform pg_notify('hand_stamp_news', 'list:' || new.list_id); end if;
      else perform pg_notify('hand_stamp_news', 'job:' || new.job_id);
      end if;
      return null;
    end $$;
    create trigger lists_news after update of columns, stamps, revision, working, updated_at on lists for each row execute function tell_news();
    create trigger jobs_news after update on jobs for each row execute function tell_news();
    create trigger runs_news after insert or update on runs for each row execute function tell_news();
    create trigger intakes_news after insert or update of state on intakes for each row execute function tell_news();
  `,
    )
    .execute(db);
}
