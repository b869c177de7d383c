import { sql, type Kysely } from 'kysely';

/**
 * Records as pages, and with the picture of their code: what the pages of a list show, and the page
 * that each record has for as long as there is one, and after.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table page_sets (
      list_id integer primary key references lists (id) on delete cascade,
      document json not null,
      version integer not null default 1,
      changed_by text not null,
      changed_at timestamptz not null default now()
    );

    create table record_pages (
      id text primary key check (id ~ '^[A-Za-z0-9_-]{22}$'),
      list_id integer references lists (id) on delete set null,
      -- stays when the record goes, so that its page says so, and that it has it again when it comes back
      record_id bigint not null,
      created_at timestamptz not null default now()
    );
    create index record_pages_list on record_pages (list_id);
    create index record_pages_record on record_pages (record_id);

    create function keep_record_pages() returns trigger language plpgsql as $$
    begin
      insert into record_pages (id, list_id, record_id)
      select distinct on (n.page) n.page, n.list_id, n.id from (
        select substring(r.values->>(c->>'id') from '/r/([A-Za-z0-9_-]{22})$') as page, r.list_id, r.id
        from written r join lists l on l.id = r.list_id
          cross join lateral jsonb_array_elements(l.columns) c
        where l.columns @> '[{"worked": {"source": {"kind": "page"}}}]' and c->'worked'->'source'->>'kind' = 'page'
      ) n where n.page is not null
      order by n.page, n.id
      on conflict (id) do nothing;
      insert into code_addresses (token, list_id, record_id, stamp, created_by)
      select n.token, n.list_id, n.id, n.stamp, n.created_by from (
        select substring(r.values->>(c->>'id') from '/c/([A-Za-z0-9_-]{24})[.]png$') as token, r.list_id, r.id,
          c->'worked'->'source'->>'stamp' as stamp, l.created_by
        from written r join lists l on l.id = r.list_id
          cross join lateral jsonb_array_elements(l.columns) c
        where l.columns @> '[{"worked": {"source": {"kind": "picture"}}}]' and c->'worked'->'source'->>'kind' = 'picture'
      ) n where n.token is not null
      on conflict do nothing;
      return null;
    end $$;
    create trigger records_pages_added after insert on records referencing new table as written for each statement execute function keep_record_pages();
    create trigger records_pages_changed after update on records referencing new table as written for each statement execute function keep_record_pages();
  `,
    )
    .execute(db);
}
