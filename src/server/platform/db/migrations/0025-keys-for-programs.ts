import { sql, type Kysely } from 'kysely';

/**
 * Keys by which programs ask, kept as hashes; and what was answered to a request that may come
 * again.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table api_keys (
      id integer primary key generated always as identity,
      name text not null,
      hash text not null unique,
      -- the last characters, by which people tell keys apart
      ending text not null,
      rights text[] not null,
      list_id integer references lists (id) on delete cascade,
      ends text,
      used_at timestamptz,
      made_by text not null,
      created_at timestamptz not null default now()
    );
    create index api_keys_list on api_keys (list_id);

    create table api_repeats (
      key_id integer not null references api_keys (id) on delete cascade,
      repeat text not null,
      asked text not null,
      status integer,
      answer json,
      created_at timestamptz not null default now(),
      primary key (key_id, repeat)
    );
    create index api_repeats_at on api_repeats (created_at);
  `,
    )
    .execute(db);
}
