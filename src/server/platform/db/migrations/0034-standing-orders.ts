import { sql, type Kysely } from 'kysely';

/**
 * Standing orders. What they start from is written down by the tables themselves, in the
 * transaction that brings it about, with the orders by whose work it came about: those stand in the
 * setting `hand_stamp.chain` of the transaction.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table standing_orders (
      id integer primary key generated always as identity,
      name text not null,
      state text not null default 'off' check (state in ('on', 'off', 'stopped')),
      -- why it stopped itself
      why text,
      paused_until timestamptz,
      -- what happened before does not start it
      on_since timestamptz,
      document jsonb not null,
      version integer not null default 1,
      -- the list that it is about, where it is about one
      list_id integer references lists (id) on delete set null,
      kind text not null,
      -- by the clock: when it is next
      next_at timestamptz,
      -- of an incoming call: its address, and the secret by which it is signed or that comes with it, sealed
      token text unique,
      secret text,
      -- of a call that came in, for pointing at its values
      example jsonb,
      changed_by text not null,
      changed_at timestamptz not null default now(),
      created_at timestamptz not null default now()
    );
    create index standing_orders_list on standing_orders (list_id);

    create table order_versions (
      order_id integer not null references standing_orders (id) on delete cascade,
      version integer not null,
      name text not null,
      document jsonb not null,
      made_by text not null,
      made_at timestamptz not null default now(),
      primary key (order_id, version)
    );

    create table order_events (
      id bigint primary key generated always as identity,
      kind text not null,
      -- for this order alone
      order_id integer references standing_orders (id) on delete cascade,
      list_id integer,
      record_id bigint,
      change text,
      -- what it is about: what happens to one thing is done one after the other
      thing text not null,
      title text not null default '',
      before jsonb,
      after jsonb,
      given jsonb,
      -- what it is known by, where it may be told twice
      once text unique,
      chain integer[] not null default '{}',
      actor text not null default '',
      at timestamptz not null default clock_timestamp(),
      due_at timestamptz not null default now(),
      told_at timestamptz
    );
    create index order_events_waiting on order_events (id) where told_at is null;
    create index order_events_order on order_events (order_id);
    create index order_events_told on order_events (told_at);

    create table order_firings (
      id bigint primary key generated always as identity,
      order_id integer not null references standing_orders (id) on delete cascade,
      version integer not null,
      event_id bigint not null references order_events (id) on delete cascade,
      -- which row of another list, and by which firing
      part text not null default '',
      parent_id bigint references order_firings (id) on delete cascade,
      record_id bigint,
      thing text not null,
      state text not null default 'waiting' check (state in ('waiting', 'asking', 'done', 'stopped', 'failed', 'declined')),
      -- the step that is next
      seq integer not null default 0,
      conditions jsonb,
      why text,
      -- what came in and what was made, by the ids of chips
      chips jsonb not null default '{}',
      tries integer not null default 0,
      approved_by text,
      due_at timestamptz not null default clock_timestamp(),
      created_at timestamptz not null default clock_timestamp(),
      ended_at timestamptz,
      unique (order_id, event_id, part)
    );
    create index order_firings_waiting on order_firings (due_at, id) where state = 'waiting';
    create index order_firings_thing on order_firings (order_id, thing, id);
    create index order_firings_event on order_firings (event_id);
    create index order_firings_parent on order_firings (parent_id);
    create index order_firings_latest on order_firings (order_id, id desc);
    create index order_firings_created on order_firings (created_at);

    -- what an order has done, which is known however long its log is kept
    create table order_done (
      order_id integer not null references standing_orders (id) on delete cascade,
      thing text not null,
      at timestamptz not null default now(),
      primary key (order_id, thing)
    );

    create table firing_steps (
      firing_id bigint not null references order_firings (id) on delete cascade,
      seq integer not null,
      kind text not null,
      state text not null check (state in ('did', 'failed', 'waits')),
      words text not null,
      made jsonb,
      ms integer not null default 0,
      tries integer not null default 0,
      at timestamptz not null default clock_timestamp(),
      primary key (firing_id, seq)
    );

    create function order_chain() returns integer[] language sql stable as $$
      select coalesce(string_to_array(nullif(current_setting('hand_stamp.chain', true), ''), ',')::integer[], '{}')
    $$;
    alter table revisions add column chain integer[] not null default order_chain();

    create function orders_wait() returns void language plpgsql as $$
    begin
      perform graphile_worker.add_job('orders.tell', '{}'::json, job_key := 'orders-tell', max_attempts := 25);
    exception when undefined_function or invalid_schema_name then
      -- the queue is not there yet; what waits is told with the next
      null;
    end $$;

    create function tell_orders_rows() returns trigger language plpgsql as $$
    begin
      insert into order_events (kind, list_id, record_id, change, thing, before, after, chain, actor)
      select 'record', w.list_id, w.record_id, case w.change when 'added' then 'came' when 'changed' then 'changed' else 'went' end,
        'record ' || w.record_id, w.before::jsonb, w.after::jsonb, r.chain, r.created_by
      from written w join revisions r on r.list_id = w.list_id and r.number = w.number
      where exists (select from standing_orders o where o.list_id = w.list_id and o.state = 'on' and o.kind in ('record', 'reaches'))
      order by w.number, w.seq;
      if found then perform orders_wait(); end if;
      return null;
    end $$;
    create trigger revision_rows_orders after insert on revision_rows referencing new table as written for each statement
      execute function tell_orders_rows();

    -- what is undone, or done again, happens again the other way round; whose own work it was it does not start again
    create function tell_orders_undone() returns trigger language plpgsql as $$
    begin
      insert into order_events (kind, list_id, record_id, change, thing, before, after, chain, actor)
      select 'record', w.list_id, w.record_id,
        case when w.change = 'changed' then 'changed' when (w.change = 'added') = new.undone then 'went' else 'came' end,
        'record ' || w.record_id, case when new.undone then w.after else w.before end::jsonb,
        case when new.undone then w.before else w.after end::jsonb, new.chain, new.created_by
      from revision_rows w where w.list_id = new.list_id and w.number = new.number
        and exists (select from standing_orders o where o.list_id = w.list_id and o.state = 'on' and o.kind in ('record', 'reaches'))
      order by w.seq;
      if found then perform orders_wait(); end if;
      return null;
    end $$;
    create trigger revisions_orders after update of undone on revisions for each row when (old.undone is distinct from new.undone)
      execute function tell_orders_undone();

    create function tell_orders_scans() returns trigger language plpgsql as $$
    begin
      insert into order_events (kind, list_id, record_id, change, thing, title, given, actor)
      select 'scan', w.list_id, w.record_id, 'checkpoint ' || w.checkpoint_id, 'record ' || w.record_id, w.title,
        jsonb_build_object('where', c.name, 'answer', w.answer), w.who
      from written w join checkpoints c on c.id = w.checkpoint_id
      where w.record_id is not null and w.answer <> 'taken-back'
        and exists (select from standing_orders o where o.list_id = w.list_id and o.state = 'on' and o.kind = 'scan')
      order by w.id;
      if found then perform orders_wait(); end if;
      return null;
    end $$;
    create trigger checkpoint_scans_orders after insert on checkpoint_scans referencing new table as written for each statement
      execute function tell_orders_scans();

    create function tell_orders_link() returns trigger language plpgsql as $$
    begin
      if exists (select from standing_orders o where o.list_id = new.list_id and o.state = 'on' and o.kind = 'scan') then
        insert into order_events (kind, list_id, record_id, change, thing, title, given)
        values ('scan', new.list_id, new.record_id, 'link', 'record ' || new.record_id, new.title,
          jsonb_build_object('where', 'its link', 'answer', new.code));
        perform orders_wait();
      end if;
      return null;
    end $$;
    create trigger links_orders after update of scans on links for each row
      when (new.scans > old.scans and new.record_id is not null) execute function tell_orders_link();
  `,
    )
    .execute(db);
}
