import { sql } from 'kysely';
import * as z from 'zod';
import { hostOf } from '../../core/payload/door';
import { askAddress, askOptions, type Database, enqueue, taskCard } from '../platform';
import { hostsOf, leadingNow, linkRows, type LinkWithRecord } from './rows';

export const askLinksCard = taskCard('links.ask', z.object({ since: z.string() }));

const name = 'links.asking';

/** The progress of a check of links; null if none is running. */
export async function askingNow(db: Database): Promise<{ done: number; of: number } | null> {
  const since = await sinceWhen(db);
  if (!since) return null;
  const { rows } = await sql<{ of: number; done: number }>`
    select count(*)::int as of,
      count(*) filter (where asked_at >= ${since}::timestamptz)::int as done from links
      where state = 'open'`.execute(db);
  return rows[0]!;
}

async function sinceWhen(db: Database): Promise<string | undefined> {
  const row = await db
    .selectFrom('settings')
    .select('value')
    .where('name', '=', name)
    .executeTakeFirst();
  return row?.value;
}

/**
 * With the user's consent, a worker checks whether the pages of all open links open. Starts over if
 * a check is running.
 */
export async function startAskingLinks(db: Database): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { rows } = await sql<{ now: string }>`select clock_timestamp()::text as now`.execute(tx);
    const since = rows[0]!.now;
    await tx
      .insertInto('settings')
      .values({ name, value: since })
      .onConflict((c) => c.column('name').doUpdateSet({ value: since }))
      .execute();
    await next(tx, since);
  });
}

const next = (db: Database, since: string) =>
  enqueue(db, askLinksCard, { since }, { key: 'links-ask', queue: 'links-ask', priority: 1 });

/** Stops it; results so far stay. */
export async function stopAskingLinks(db: Database, since?: string): Promise<void> {
  let query = db.deleteFrom('settings').where('name', '=', name);
  if (since !== undefined) query = query.where('value', '=', since);
  await query.execute();
}

/**
 * Addresses asked at a time, those in one task, and the least time between two of one host, in ms.
 */
const atATime = 4;
const inOneTask = 120;
const pause = { others: 60, standIns: 5 };

/**
 * The worker's part: checks some links that were not checked yet, then queues itself for the rest.
 * Nothing is locked while an address is requested, so that scans are still counted. Two workers
 * would check some links twice, with the same result.
 */
export async function askLinks(db: Database, since: string): Promise<void> {
  if ((await sinceWhen(db)) !== since) return;
  const [options, hosts] = await Promise.all([askOptions(db), hostsOf(db)]);
  const { rows } = await sql<LinkWithRecord>`
    select ${linkRows}
      where l.state = 'open' and (l.asked_at is null or l.asked_at < ${since}::timestamptz)
      order by l.code limit ${inOneTask}`.execute(db);
  const by = new Map<string, string[]>();
  const silent: string[] = [];
  for (const row of rows) {
    const leading = leadingNow(row, hosts);
    if (leading.kind === 'leads') by.set(leading.to, [...(by.get(leading.to) ?? []), row.code]);
    else silent.push(row.code);
  }
  await answer(db, silent, null);
  const waiting = [...by];
  const nextAt = new Map<string, number>();
  const work = async () => {
    for (let one = waiting.shift(); one !== undefined; one = waiting.shift()) {
      const [address, codes] = one;
      const host = hostOf(address);
      const at = Math.max(performance.now(), nextAt.get(host) ?? 0);
      nextAt.set(host, at + (host in options.standIns ? pause.standIns : pause.others));
      await new Promise((resolve) => setTimeout(resolve, at - performance.now()));
      await answer(db, codes, (await askAddress(address, options)).state);
      // nobody needs the result any more
      if ((await sinceWhen(db)) !== since) waiting.length = 0;
    }
  };
  await Promise.all(Array.from({ length: atATime }, work));
  if (rows.length < inOneTask) await stopAskingLinks(db, since);
  else if ((await sinceWhen(db)) === since) await next(db, since);
}

async function answer(
  db: Database,
  codes: readonly string[],
  state: LinkWithRecord['answered'],
): Promise<void> {
  if (codes.length === 0) return;
  await db
    .updateTable('links')
    .set({ answered: state, asked_at: sql<Date>`clock_timestamp()` })
    .where(sql<boolean>`code = any(${[...codes]}::text[])`)
    .execute();
}
