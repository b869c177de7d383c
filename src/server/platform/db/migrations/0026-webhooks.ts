import { sql, type Kysely } from 'kysely';

/**
 * Programs are told what happens. The tables themselves say so, whoever changes them, in the same
 * transaction.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table webhooks (
      id integer primary key generated always as identity,
      name text not null,
      address text not null,
      events text[] not null,
      list_id integer references lists (id) on delete cascade,
      -- sealed
      secret text not null,
      open boolean not null default true,
      made_by text not null,
      created_at timestamptz not null default now()
    );
    create index webhooks_list on webhooks (list_id);

    create table webhook_deliveries (
      id uuid primary key default gen_random_uuid(),
      webhook_id integer not null references webhooks (id) on delete cascade,
      kind text not null,
      body json not null,
      state text not null default 'waiting' check (state in ('waiting', 'delivered', 'failed')),
      tries integer not null default 0,
      due_at timestamptz not null default now(),
      status integer,
      answer text,
      created_at timestamptz not null default clock_timestamp(),
      ended_at timestamptz
    );
    create index webhook_deliveries_webhook on webhook_deliveries (webhook_id, created_at desc);
    create index webhook_deliveries_due on webhook_deliveries (due_at) where state = 'waiting';

    create function webhooks_wait() returns void language plpgsql as $$
    begin
      perform graphile_worker.add_job('webhooks.send', '{}'::json, job_key := 'webhooks-send', max_attempts := 25);
    exception when undefined_function or invalid_schema_name then
      -- the queue is not there yet; what waits is sent with the next
      null;
    end $$;

    create function tell_webhooks_rows() returns trigger language plpgsql as $$
    begin
      insert into webhook_deliveries (webhook_id, kind, body)
      select w.id, n.kind, json_build_object('list', n.list_id, 'revision', n.number, 'records', n.ids)
      from (
        select list_id, number, 'record.' || case change when 'added' then 'came' when 'changed' then 'changed' else 'went' end as kind,
          json_agg(record_id order by seq) as ids
        from written group by list_id, number, change, seq / 500) n
      join webhooks w on w.open and (w.list_id is null or w.list_id = n.list_id) and n.kind = any (w.events);
      if found then perform webhooks_wait(); end if;
      return null;
    end $$;
    create trigger revision_rows_webhooks after insert on revision_rows referencing new table as written for each statement
      execute function tell_webhooks_rows();

    -- what is undone, or done again, happens again the other way round
    create function tell_webhooks_undone() returns trigger language plpgsql as $$
    begin
      insert into webhook_deliveries (webhook_id, kind, body)
      select w.id, n.kind, json_build_object('list', n.list_id, 'revision', n.number, 'records', n.ids)
      from (
        select list_id, number, 'record.' || case when change = 'changed' then 'changed'
            when (change = 'added') = new.undone then 'went' else 'came' end as kind, json_agg(record_id order by seq) as ids
        from revision_rows where list_id = new.list_id and number = new.number group by list_id, number, change, seq / 500) n
      join webhooks w on w.open and (w.list_id is null or w.list_id = n.list_id) and n.kind = any (w.events);
      if found then perform webhooks_wait(); end if;
      return null;
    end $$;
    create trigger revisions_webhooks after update of undone on revisions for each row when (old.undone is distinct from new.undone)
      execute function tell_webhooks_undone();

    create function tell_webhooks_run() returns trigger language plpgsql as $$
    begin
      insert into webhook_deliveries (webhook_id, kind, body)
      select w.id, 'run.finished', json_build_object('run', new.id, 'job', new.job_id, 'name', new.name, 'state', new.state)
      from webhooks w join jobs j on j.id = new.job_id
      where w.open and (w.list_id is null or w.list_id = j.list_id) and 'run.finished' = any (w.events);
      if found then perform webhooks_wait(); end if;
      return null;
    end $$;
    create trigger runs_webhooks after update of state on runs for each row
      when (new.state is distinct from old.state and new.state in ('done', 'failed', 'cancelled')) execute function tell_webhooks_run();
  `,
    )
    .execute(db);
}
