import { sql, type Kysely } from 'kysely';

/**
 * People, how they sign in and what they may; what is shared with whom; and the journal of what was
 * done, which nothing changes afterwards. `people`, `sessions`, `sign_ins`, `one_time`, `passkeys`
 * and `second_factors` are as better-auth wants them.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await sql
    .raw(
      `
    create table people (
      id text primary key, name text not null, email text not null unique, email_verified boolean not null default false, image text,
      created_at timestamptz not null default now(), updated_at timestamptz not null default now(), two_factor_enabled boolean default false,
      "right" text not null check ("right" in ('scans', 'looks', 'changes', 'keeps')),
      ended boolean not null default false, stand_in boolean not null default false);
    create table sessions (
      id text primary key, expires_at timestamptz not null, token text not null unique, created_at timestamptz not null default now(),
      updated_at timestamptz not null, ip_address text, user_agent text, person_id text not null references people on delete cascade);
    create index on sessions (person_id);
    create table sign_ins (
      id text primary key, account_id text not null, provider_id text not null, person_id text not null references people on delete cascade,
      access_token text, refresh_token text, id_token text, access_token_expires_at timestamptz, refresh_token_expires_at timestamptz,
      scope text, password text, created_at timestamptz not null default now(), updated_at timestamptz not null);
    create index on sign_ins (person_id);
    create table one_time (
      id text primary key, identifier text not null, value text not null, expires_at timestamptz not null,
      created_at timestamptz not null default now(), updated_at timestamptz not null default now());
    create index on one_time (identifier);
    create table second_factors (
      id text primary key, secret text not null, backup_codes text not null, person_id text not null references people on delete cascade,
      verified boolean, failed_verification_count integer default 0, locked_until timestamptz);
    create index on second_factors (secret);
    create index on second_factors (person_id);
    create table passkeys (
      id text primary key, name text, public_key text not null, person_id text not null references people on delete cascade,
      credential_id text not null unique, counter integer not null, device_type text not null, backed_up boolean not null,
      transports text, created_at timestamptz, aaguid text);
    create index on passkeys (person_id);

    -- an address that lets someone in once; what is kept of it opens nothing
    create table welcomes (
      token_hash text primary key, kind text not null check (kind in ('first', 'invitation', 'reset')), email text, name text,
      "right" text, person_id text references people on delete cascade, made_by text not null,
      created_at timestamptz not null default now(), expires_at timestamptz not null);
    create index on welcomes (person_id);
    create table tries (key text not null, at timestamptz not null default now());
    create index on tries (key, at);

    create table shares (
      person_id text not null references people on delete cascade,
      list_id integer references lists on delete cascade, job_id integer references jobs on delete cascade,
      "right" text not null check ("right" in ('looks', 'changes')), made_by text not null, created_at timestamptz not null default now(),
      check (num_nonnulls(list_id, job_id) = 1),
      unique nulls not distinct (person_id, list_id, job_id));
    create index on shares (list_id);
    create index on shares (job_id);

    -- who has a job open, and at which record; of the moment, so it need not outlast a crash
    create unlogged table presence (
      window_id text primary key, job_id integer not null references jobs on delete cascade,
      person_id text not null references people on delete cascade, record_id integer, seen_at timestamptz not null default now());
    create index on presence (job_id);
    create index on presence (person_id);

    create table journal (
      id bigint generated always as identity primary key, at timestamptz not null default now(),
      person_id text, who text not null, what text not null, about text not null default '',
      list_id integer, job_id integer, request text not null, outcome text, settled_at timestamptz);
    create index on journal (at);
    create index on journal (list_id) where list_id is not null;
    create index on journal (job_id) where job_id is not null;
    -- how it came out is written once; nothing else is ever changed, and only what is older than the time set for it goes
    create function journal_stands() returns trigger language plpgsql as $$
    begin
      if tg_op = 'UPDATE' and old.outcome is null
        and (to_jsonb(old) - 'outcome' - 'settled_at' - 'about') = (to_jsonb(new) - 'outcome' - 'settled_at' - 'about') then return new; end if;
      if tg_op = 'DELETE' and old.at < now() - interval '7 days' then return old; end if;
      raise exception 'the journal is not changed';
    end $$;
    create trigger journal_stands before update or delete on journal for each row execute function journal_stands();
    create function journal_stays() returns trigger language plpgsql as $$ begin raise exception 'the journal is not changed'; end $$;
    create trigger journal_stays before truncate on journal execute function journal_stays();
  `,
    )
    .execute(db);
}
