import { sql, type Kysely } from 'kysely';

/**
 * Places where codes are scanned and checked against lists, the devices that stand there, and what
 * was scanned.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table checkpoints (
      id integer primary key generated always as identity,
      name text not null,
      rule json not null,
      version integer not null default 1,
      -- with which one it counts together; its own number where it counts by itself
      circle integer,
      created_by text not null,
      created_at timestamptz not null default now()
    );
    create index checkpoints_circle on checkpoints (circle);

    create table checkpoint_devices (
      id integer primary key generated always as identity,
      checkpoint_id integer not null references checkpoints (id) on delete cascade,
      name text not null,
      -- hashes: of what the code on the coordinator's screen says, and of what the device keeps
      joins text,
      joins_until timestamptz,
      secret text,
      ends_at timestamptz not null,
      shut_at timestamptz,
      joined_at timestamptz,
      seen_at timestamptz,
      -- by how much our clock is ahead of the device's
      offset_ms integer not null default 0,
      waiting integer not null default 0,
      made_by text not null,
      created_at timestamptz not null default now()
    );
    create index checkpoint_devices_checkpoint on checkpoint_devices (checkpoint_id);
    create unique index checkpoint_devices_joins on checkpoint_devices (joins);
    create unique index checkpoint_devices_secret on checkpoint_devices (secret);

    create table checkpoint_scans (
      id bigint primary key generated always as identity,
      checkpoint_id integer not null references checkpoints (id) on delete cascade,
      -- made on the device, so that what is sent twice is kept once
      key uuid not null unique,
      device_id integer references checkpoint_devices (id) on delete set null,
      who text not null,
      how text not null check (how in ('camera', 'reader', 'picture', 'hand')),
      at timestamptz not null,
      received_at timestamptz not null default clock_timestamp(),
      answer text not null,
      why text not null default '',
      session text,
      list_id integer references lists (id) on delete set null,
      record_id bigint,
      title text not null default '',
      record_key text not null default '',
      -- of a code that is of no record of ours
      text text,
      reason text,
      apart boolean not null default false,
      -- what our list said of it where the device answered by itself and otherwise
      found text,
      -- the other scan by which the same code was let in meanwhile
      twice_with bigint references checkpoint_scans (id) on delete set null,
      -- the scan that this entry takes back
      takes_back bigint references checkpoint_scans (id) on delete cascade
    );
    create index checkpoint_scans_tape on checkpoint_scans (checkpoint_id, id desc);
    create index checkpoint_scans_in on checkpoint_scans (record_id, checkpoint_id) where answer = 'comes-in';
    create index checkpoint_scans_list on checkpoint_scans (list_id);
    create index checkpoint_scans_device on checkpoint_scans (device_id);
    create index checkpoint_scans_twice on checkpoint_scans (twice_with);
    create unique index checkpoint_scans_back on checkpoint_scans (takes_back);

    -- a code that was printed is known again, also when its record says otherwise now
    create index receipts_by_payload on receipts using hash (payload);

    create function tell_checkpoint_news() returns trigger language plpgsql as $$
    begin
      if tg_table_name = 'checkpoints' then perform pg_notify('hand_stamp_news', 'checkpoint:' || new.id);
      else perform pg_notify('hand_stamp_news', 'checkpoint:' || new.checkpoint_id);
      end if;
      return null;
    end $$;
    create trigger checkpoints_news after update on checkpoints for each row execute function tell_checkpoint_news();
    create trigger checkpoint_scans_news after insert on checkpoint_scans for each row execute function tell_checkpoint_news();
    create trigger checkpoint_devices_news after insert or update of name, shut_at, joined_at, ends_at, waiting on checkpoint_devices
      for each row execute function tell_checkpoint_news();
  `,
    )
    .execute(db);
}
