import { clock } from './clock';
import { sql } from 'kysely';
import { keptKinds, usualDays, wholeGb, type KeptKind } from '../../core/job/retention';
import type { Database } from './db';
import { log } from './log';
import { Refusal } from './refusal';

const setting = (kind: KeptKind): string => `kept.${kind}`;
const wholeSetting = 'kept.whole-gb';

interface Keeping {
  /** Bytes that it takes. */
  bytes(db: Database): Promise<number>;
  /** Deletes what is older. */
  takeAway(db: Database, days: number): Promise<unknown>;
}

const older = (days: number) => sql<Date>`now() - ${days} * interval '1 day'`;
const one = async (
  db: Database,
  query: ReturnType<typeof sql<{ bytes: number }>>,
): Promise<number> => (await query.execute(db)).rows[0]!.bytes;
/** Latest versions of a job that are always kept. */
const latest = 50;

const keeping: Record<KeptKind, Keeping> = {
  files: {
    bytes: (db) =>
      one(
        db,
        sql`select (select coalesce(sum(size), 0) from files)::bigint
          + (select coalesce(sum(octet_length(message)), 0) from mails)::bigint as bytes`,
      ),
    takeAway: async (db, days) => {
      await db.transaction().execute(async (tx) => {
        const runs = await tx
          .updateTable('runs')
          .set({ files_gone_at: clock.date() })
          .where('finished_at', '<', older(days))
          .where('files_gone_at', 'is', null)
          .returning('id')
          .execute();
        const ids = runs.map((run) => run.id);
        await tx
          .deleteFrom('files')
          .where('run_id', 'in', [...ids, -1])
          .execute();
        // a mail that did not go out for so long does not go out any more
        await tx
          .updateTable('mails')
          .set({ message: null })
          .where('run_id', 'in', [...ids, -1])
          .where('message', 'is not', null)
          .execute();
      });
    },
  },
  intakes: {
    bytes: (db) =>
      one(
        db,
        sql`select pg_total_relation_size('intakes') + pg_total_relation_size('intake_rows') as bytes`,
      ),
    takeAway: (db, days) =>
      db
        .deleteFrom('intakes')
        .where('created_at', '<', older(days))
        .where('state', 'not in', ['waiting', 'taking'])
        .execute(),
  },
  documents: {
    bytes: (db) => one(db, sql`select coalesce(sum(size), 0)::bigint as bytes from documents`),
    takeAway: (db, days) => {
      const used = (from: string, column: string) =>
        sql`exists (select from ${sql.raw(from)} u
          where (u.${sql.ref(column)}->'piece'->'ground'->>'document')::int = d.id
             or (u.${sql.ref(column)}->'piece'->'ground'->>'set')::int = d.set_id)`;
      // the items of a run name the replaced PDFs it used: those stay as long as such a run exists
      return sql`
        delete from documents d where d.created_at < ${older(days)}
          and not ${used('jobs', 'document')} and not ${used('job_versions', 'document')}
            and not ${used('runs', 'frozen')}
          and not (d.kind = 'pdf' and d.set_id is null and exists (
            select from runs r
              where r.created_at > d.created_at
              and r.frozen->'piece'->'ground'->>'kind' = 'pdfs'))`.execute(db);
    },
  },
  letters: {
    bytes: (db) => one(db, sql`select pg_total_relation_size('letters') as bytes`),
    takeAway: (db, days) =>
      db.deleteFrom('letters').where('written_at', '<', older(days)).execute(),
  },
  answers: {
    bytes: (db) => one(db, sql`select pg_total_relation_size('answers') as bytes`),
    takeAway: (db, days) => db.deleteFrom('answers').where('asked_at', '<', older(days)).execute(),
  },
  versions: {
    bytes: (db) => one(db, sql`select pg_total_relation_size('job_versions') as bytes`),
    takeAway: (db, days) =>
      sql`delete from job_versions v using jobs j
        where j.id = v.job_id and v.created_at < ${older(days)}
        and v.version <= j.version - ${latest}`.execute(db),
  },
  scans: {
    bytes: (db) => one(db, sql`select pg_total_relation_size('checkpoint_scans') as bytes`),
    takeAway: (db, days) =>
      db.deleteFrom('checkpoint_scans').where('at', '<', older(days)).execute(),
  },
  orders: {
    bytes: (db) =>
      one(
        db,
        sql`select pg_total_relation_size('order_firings') + pg_total_relation_size('firing_steps') + pg_total_relation_size('order_events') as bytes`,
      ),
    takeAway: (db, days) =>
      // what is in progress or waits for an answer stays
      sql`delete from order_events e where e.told_at < ${older(days)}
        and not exists (select from order_firings f
          where f.event_id = e.id and f.state in ('waiting', 'asking'))`.execute(db),
  },
  journal: {
    bytes: (db) => one(db, sql`select pg_total_relation_size('journal') as bytes`),
    takeAway: (db, days) => db.deleteFrom('journal').where('at', '<', older(days)).execute(),
  },
};

export interface Kept {
  kinds: Record<KeptKind, { days: number; bytes: number }>;
  whole: { gb: number; bytes: number };
}

async function numbers(db: Database): Promise<(name: string, usual: number) => number> {
  const rows = await db
    .selectFrom('settings')
    .selectAll()
    .where('name', 'like', 'kept.%')
    .execute();
  const known = new Map(rows.map((row) => [row.name, Number(row.value)]));
  return (name, usual) => known.get(name) ?? usual;
}

const wholeBytes = (db: Database): Promise<number> =>
  one(db, sql`select pg_database_size(current_database()) as bytes`);

/** How long things are kept, and how much space they use. */
export async function readKept(db: Database): Promise<Kept> {
  const number = await numbers(db);
  const kinds = await Promise.all(
    keptKinds.map(
      async (kind) =>
        [
          kind,
          { days: number(setting(kind), usualDays[kind]), bytes: await keeping[kind].bytes(db) },
        ] as const,
    ),
  );
  return {
    kinds: Object.fromEntries(kinds) as Kept['kinds'],
    whole: { gb: number(wholeSetting, wholeGb.usual), bytes: await wholeBytes(db) },
  };
}

export async function writeKept(
  db: Database,
  days: Partial<Record<KeptKind, number>>,
  gb: number | undefined,
): Promise<void> {
  const values = [
    ...Object.entries(days).map(([kind, n]) => ({
      name: setting(kind as KeptKind),
      value: String(n),
    })),
    ...(gb === undefined ? [] : [{ name: wholeSetting, value: String(gb) }]),
  ];
  for (const row of values)
    await db
      .insertInto('settings')
      .values(row)
      .onConflict((c) => c.column('name').doUpdateSet({ value: row.value }))
      .execute();
}

/** Deletes what has been kept long enough. */
export async function takeAwayTheOld(db: Database): Promise<void> {
  const number = await numbers(db);
  for (const kind of keptKinds) {
    const days = number(setting(kind), usualDays[kind]);
    if (days > 0) await keeping[kind].takeAway(db, days);
  }
  log.info('what was kept long enough is gone');
}

const inGb = (bytes: number): string => (bytes / 2 ** 30).toFixed(1);

/** @throws Refusal if the stored data already takes as much as Settings allow */
export async function checkRoom(db: Database): Promise<void> {
  const number = await numbers(db);
  const gb = number(wholeSetting, wholeGb.usual);
  const bytes = await wholeBytes(db);
  if (bytes < gb * 2 ** 30) return;
  throw new Refusal(
    `Hand Stamp uses ${inGb(bytes)} GB, and Settings allow ${gb} GB. Delete lists or runs that you do not need, keep things for a shorter time, or allow more in Settings. Nothing was changed.`,
    507,
  );
}
