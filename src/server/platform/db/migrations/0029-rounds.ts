import { sql, type Kysely } from 'kysely';

/** Rounds on which what is there is scanned, place after place, and compared with the list. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table rounds (
      id integer primary key generated always as identity,
      name text not null,
      list_id integer not null references lists (id) on delete cascade,
      place_column text not null,
      started_by text not null,
      created_at timestamptz not null default now(),
      closed_at timestamptz,
      closed_by text
    );
    create index rounds_list on rounds (list_id);

    create table round_scans (
      id bigint primary key generated always as identity,
      round_id integer not null references rounds (id) on delete cascade,
      key uuid not null unique,
      who text not null,
      how text not null check (how in ('camera', 'reader', 'picture', 'hand')),
      at timestamptz not null default clock_timestamp(),
      place text not null,
      answer text not null check (answer in ('here', 'elsewhere', 'twice', 'unknown')),
      why text not null default '',
      record_id bigint,
      title text not null default '',
      record_key text not null default '',
      -- where the list had it then
      belongs text,
      text text,
      -- what was done about it: moved here, or made a record of
      done text check (done in ('moved', 'made'))
    );
    create index round_scans_round on round_scans (round_id, id desc);
    create unique index round_scans_seen on round_scans (round_id, record_id) where answer in ('here', 'elsewhere');

    -- how each record came out of a round that is closed
    create table round_lines (
      round_id integer not null references rounds (id) on delete cascade,
      seq integer not null,
      record_id bigint,
      title text not null,
      record_key text not null,
      place text not null,
      -- where it was seen, where that is another place
      seen_at text,
      outcome text not null check (outcome in ('seen', 'moved', 'elsewhere', 'missing', 'found')),
      primary key (round_id, seq)
    );

    create function tell_round_news() returns trigger language plpgsql as $$
    begin
      if tg_table_name = 'rounds' then perform pg_notify('hand_stamp_news', 'round:' || new.id);
      else perform pg_notify('hand_stamp_news', 'round:' || new.round_id);
      end if;
      return null;
    end $$;
    create trigger rounds_news after update on rounds for each row execute function tell_round_news();
    create trigger round_scans_news after insert or update on round_scans for each row execute function tell_round_news();
  `,
    )
    .execute(db);
}
