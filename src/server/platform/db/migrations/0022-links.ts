import { sql, type Kysely } from 'kysely';

/**
 * Links: short addresses of ours. What a list's columns say of their links stands beside the links
 * too, so that a printed one leads on when its column or its list is gone; the tables themselves
 * keep the two together, whoever writes a record or a column.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table link_sets (
      id integer primary key generated always as identity,
      list_id integer references lists (id) on delete set null,
      column_id text not null,
      leads json not null,
      created_by text not null,
      created_at timestamptz not null default now(),
      unique (list_id, column_id)
    );

    create table links (
      code text primary key check (code ~ '^[2-9B-HJ-NP-TV-Z]{9}([2-9B-HJ-NP-TV-Z]{4})?$'),
      set_id integer references link_sets (id),
      list_id integer references lists (id) on delete set null,
      -- stays when the record goes, so that one that comes back has its link again
      record_id bigint,
      title text not null default '',
      leads json,
      state text not null default 'open' check (state in ('open', 'paused', 'withdrawn')),
      opens text,
      ends text,
      after text,
      peeks boolean not null default false,
      printed_at timestamptz,
      scans integer not null default 0,
      scanned_at timestamptz,
      asked_at timestamptz,
      answered text,
      created_by text not null,
      created_at timestamptz not null default now()
    );
    create index links_set on links (set_id);
    create index links_list on links (list_id);
    create index links_record on links (record_id);
    create index links_new on links (created_at desc, code);
    create index links_scans on links (scans desc, code);

    create table link_changes (
      id bigint primary key generated always as identity,
      code text references links (code) on delete cascade,
      set_id integer references link_sets (id) on delete cascade,
      batch uuid not null,
      before json not null,
      after json not null,
      undone boolean not null default false,
      changed_by text,
      changed_at timestamptz not null default now()
    );
    create index link_changes_code on link_changes (code);
    create index link_changes_set on link_changes (set_id);
    create index link_changes_batch on link_changes (batch);

    create table link_scans (
      code text not null references links (code) on delete cascade,
      hour timestamptz not null,
      device text not null check (device in ('phone', 'tablet', 'computer', 'other', 'robot')),
      scans integer not null,
      primary key (code, hour, device)
    );
    create index link_scans_hour on link_scans (hour);

    create table link_flushes (
      id uuid primary key,
      at timestamptz not null default now()
    );
    create index link_flushes_at on link_flushes (at);

    create function keep_link_sets() returns trigger language plpgsql as $$
    declare one record;
    begin
      for one in
        select c->>'id' as id, c->'worked'->'source' as source from jsonb_array_elements(new.columns) c
        where c->'worked'->'source'->>'kind' = 'link'
      loop
        insert into link_changes (set_id, batch, before, after)
          select s.id, gen_random_uuid(), json_build_object('leads', s.leads),
            json_build_object('leads', json_build_object('parts', one.source->'parts', 'spaces', one.source->'spaces'))
          from link_sets s where s.list_id = new.id and s.column_id = one.id
            and ((s.leads->'parts')::jsonb <> (one.source->'parts') or (s.leads->>'spaces') is distinct from (one.source->>'spaces'));
        insert into link_sets (list_id, column_id, leads, created_by)
          values (new.id, one.id, json_build_object('parts', one.source->'parts', 'spaces', one.source->'spaces'), new.created_by)
          on conflict (list_id, column_id) do update set leads = excluded.leads
            where (link_sets.leads->'parts')::jsonb <> (excluded.leads->'parts')::jsonb
              or (link_sets.leads->>'spaces') is distinct from (excluded.leads->>'spaces');
      end loop;
      return null;
    end $$;
    create trigger lists_link_sets after insert or update of columns on lists for each row execute function keep_link_sets();

    create function list_title(columns jsonb, given json) returns text language sql immutable as $$
      select coalesce((select given->>(c->>'id') from jsonb_array_elements(columns) c where c->>'role' in ('name', 'key')
        order by c->>'role' desc limit 1), '')
    $$;

    create function keep_links() returns trigger language plpgsql as $$
    begin
      insert into links (code, set_id, list_id, record_id, title, created_by)
      select distinct on (n.code) n.code, n.set_id, n.list_id, n.id, n.title, n.created_by from (
        select substring(r.values->>s.column_id from '/([2-9B-HJ-NP-TV-Z]{9}|[2-9B-HJ-NP-TV-Z]{13})$') as code, s.id as set_id, r.list_id, r.id,
          s.created_by, list_title(l.columns, r.values) as title
        from written r join link_sets s on s.list_id = r.list_id join lists l on l.id = r.list_id
      ) n where n.code is not null
      order by n.code, n.id
      on conflict (code) do update set title = excluded.title
        where links.record_id = excluded.record_id and links.title <> excluded.title;
      return null;
    end $$;
    create trigger records_links_added after insert on records referencing new table as written for each statement execute function keep_links();
    create trigger records_links_changed after update on records referencing new table as written for each statement execute function keep_links();
  `,
    )
    .execute(db);
}
