import { sql, type Kysely } from 'kysely';

/** Programs that are told of all lists are told of the records with which a list begins, too. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create function tell_webhooks_first() returns trigger language plpgsql as $$
    begin
      insert into webhook_deliveries (webhook_id, kind, body)
      select w.id, 'record.came', json_build_object('list', new.list_id, 'revision', new.number, 'records', n.ids)
      from (
        select json_agg(r.id order by r.position) as ids from records r where r.list_id = new.list_id group by r.position / 500) n,
        webhooks w
      where w.open and (w.list_id is null or w.list_id = new.list_id) and 'record.came' = any (w.events);
      if found then perform webhooks_wait(); end if;
      return null;
    end $$;
    create trigger revisions_webhooks_first after insert on revisions for each row when (new.number = 1 and new.kind = 'intake')
      execute function tell_webhooks_first();
  `,
    )
    .execute(db);
}
