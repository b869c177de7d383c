import { sql, type Kysely } from 'kysely';

interface OldDocument {
  stamps?: { id: string }[];
  piece: { elements: { kind: string; stamp?: string }[] };
}

/**
 * Stamps move from the job to its list; revisions keep what they changed, so that each can be
 * looked at and undone; sources can be read again; problems and finished codes are kept per record,
 * so that they can be counted.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  const run = (text: string) => sql.raw(text).execute(db);
  await run(`
    alter table lists
      add column stamps jsonb not null default '[]',
      add column origin json,
      add column shapes json not null default '{}',
      add column next_column integer not null default 1,
      add column working integer not null default 0;
    alter table records add column hand json;
    alter table revisions
      add column undone boolean not null default false,
      add column dropped boolean not null default false,
      add column counts json,
      add column columns_before jsonb,
      add column columns_after jsonb;
    create table revision_rows (
      list_id integer not null,
      number integer not null,
      seq integer not null,
      record_id bigint not null,
      change text not null,
      before json,
      after json,
      position integer,
      kept json,
      primary key (list_id, number, seq),
      foreign key (list_id, number) references revisions on delete cascade
    );
    drop table changes;
    create table prints (
      list_id integer not null references lists on delete cascade,
      what text not null,
      record_id bigint not null references records on delete cascade,
      print text,
      mark text not null,
      primary key (list_id, what, record_id)
    );
    create index prints_by_print on prints (list_id, what, print);
    create index prints_by_record on prints (record_id);
    create table problems (
      list_id integer not null references lists on delete cascade,
      record_id bigint not null references records on delete cascade,
      kind text not null,
      column_id text not null,
      text text not null,
      mended text,
      primary key (record_id, kind, column_id)
    );
    create index problems_by_kind on problems (list_id, kind);
    create table connections (
      id integer generated always as identity primary key,
      name text not null,
      host text not null,
      port integer not null,
      database text not null,
      username text not null,
      password text not null,
      created_by text not null,
      created_at timestamptz not null default now()
    );
    create table kept (
      id integer generated always as identity primary key,
      kind text not null,
      name text not null,
      document jsonb not null,
      created_by text not null,
      created_at timestamptz not null default now(),
      unique (kind, name)
    );
    create table answers (
      address text primary key,
      state text not null,
      status integer,
      leads_to text,
      asked_at timestamptz not null default now()
    );
    alter table jobs add column asking json;
    alter table job_rows add column content text, add column printed text;
    alter table run_items add column content text;
    alter table runs add column kind text not null default 'job';
    create collation natural_order (provider = icu, locale = 'und-u-kn-true');
    alter table intakes
      add column list_id integer references lists on delete cascade,
      add column origin json,
      add column told json;
    create table intake_rows (
      intake_id integer not null references intakes on delete cascade,
      seq integer not null,
      change text not null,
      record_id bigint,
      before json,
      after json,
      clashes json,
      primary key (intake_id, seq)
    );
  `);
  const jobs = await sql<{
    id: number;
    list_id: number;
    document: OldDocument;
  }>`select id, list_id, document from jobs order by id`.execute(db);
  const byList = new Map<number, { id: string }[]>();
  for (const job of jobs.rows) {
    const stamps = byList.get(job.list_id) ?? [];
    byList.set(job.list_id, stamps);
    const { stamps: own = [], ...rest } = job.document;
    for (const stamp of own) {
      const same = stamps.find(
        (s) => JSON.stringify({ ...s, id: '' }) === JSON.stringify({ ...stamp, id: '' }),
      );
      const id =
        same?.id ??
        (stamps.some((s) => s.id === stamp.id) ? `stamp-${stamps.length + 1}` : stamp.id);
      if (!same) stamps.push({ ...stamp, id });
      for (const element of rest.piece.elements)
        if (element.kind === 'stamp' && element.stamp === stamp.id) element.stamp = id;
    }
    await sql`update jobs set document = ${JSON.stringify(rest)}::jsonb where id = ${job.id}`.execute(
      db,
    );
  }
  for (const [list, stamps] of byList)
    await sql`update lists set stamps = ${JSON.stringify(stamps)}::jsonb where id = ${list}`.execute(
      db,
    );
  await run(`
    update lists set next_column = 1 + coalesce((
      select max(nullif(regexp_replace(c->>'id', '\\D', '', 'g'), '')::int) from jsonb_array_elements(columns) c), 0);
  `);
}
