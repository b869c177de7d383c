import { randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import type { Device } from '../../core/links/device';
import { clock, type Database, log, oncePerProcess } from '../platform';

/** Scans of one lot, by code, hour and class of device. */
type Lot = Map<string, { code: string; hour: number; device: Device; scans: number }>;

interface Counter {
  lot: Lot;
  /**
   * A batch of counts that is being written, or that the database has not accepted yet, under a
   * name that makes it count once.
   */
  held: { id: string; lot: Lot } | undefined;
  timer: NodeJS.Timeout | undefined;
  writing: Promise<void> | undefined;
}

const counter = oncePerProcess<Counter>('links.scans', () => ({
  lot: new Map(),
  held: undefined,
  timer: undefined,
  writing: undefined,
}));

/** How long a scan waits in memory before it is written, in ms: a kill loses no more than that. */
const wait = 100;
/** After a failure, in ms. */
const retryAfter = 1000;
const hour = 3_600_000;

/**
 * Counts a scan: in memory, so that nobody waits, and in the database within a tenth of a second,
 * or once it is back.
 */
export function countScan(db: Database, code: string, device: Device, now = clock.now()): void {
  const at = Math.floor(now / hour) * hour;
  const key = `${code} ${at} ${device}`;
  const known = counter.lot.get(key);
  if (known) known.scans++;
  else counter.lot.set(key, { code, hour: at, device, scans: 1 });
  counter.timer ??= setTimeout(() => {
    counter.timer = undefined;
    void writeScans(db);
  }, wait).unref();
}

/** Writes the counts. Counts that the database does not accept now are kept and tried again. */
export async function writeScans(db: Database): Promise<void> {
  while (counter.writing) await counter.writing;
  if (!counter.held) {
    if (counter.lot.size === 0) return;
    counter.held = { id: randomUUID(), lot: counter.lot };
    counter.lot = new Map();
  }
  const { id, lot } = counter.held;
  counter.writing = keepLot(db, id, [...lot.values()])
    .then(
      () => void (counter.held = undefined),
      (error: unknown) => {
        log.warn({ err: error }, 'scans could not be written yet; they are kept and tried again');
        counter.timer ??= setTimeout(() => {
          counter.timer = undefined;
          void writeScans(db);
        }, retryAfter).unref();
      },
    )
    .finally(() => void (counter.writing = undefined));
  await counter.writing;
  if (!counter.held && counter.lot.size > 0) await writeScans(db);
}

/** Once under its name: if the answer of the database was lost, the batch is not counted twice. */
async function keepLot(
  db: Database,
  id: string,
  lot: readonly { code: string; hour: number; device: Device; scans: number }[],
): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { numInsertedOrUpdatedRows } = await tx
      .insertInto('link_flushes')
      .values({ id })
      .onConflict((c) => c.doNothing())
      .executeTakeFirstOrThrow();
    if (numInsertedOrUpdatedRows === 0n) return;
    // always in one order, so that two processes never wait for one another
    const rows = [...lot].sort((a, b) => (a.code < b.code ? -1 : a.code > b.code ? 1 : 0));
    const people = rows.filter((row) => row.device !== 'robot');
    const by = new Map<string, number>();
    for (const { code, scans } of people) by.set(code, (by.get(code) ?? 0) + scans);
    await tx
      .selectFrom('links')
      .select('code')
      .where(sql<boolean>`code = any(${[...by.keys()]}::text[])`)
      .orderBy('code')
      .forUpdate()
      .execute();
    await sql`
      update links l set scans = l.scans + u.scans, scanned_at = now()
      from unnest(${[...by.keys()]}::text[], ${[...by.values()]}::int[]) as u(code, scans)
        where l.code = u.code`.execute(tx);
    await sql`
      insert into link_scans (code, hour, device, scans)
      select u.code, to_timestamp(u.hour), u.device, u.scans
      from unnest(${rows.map((r) => r.code)}::text[], ${rows.map((r) => r.hour / 1000)}::bigint[],
        ${rows.map((r) => r.device)}::text[],
        ${rows.map((r) => r.scans)}::int[]) as u(code, hour, device, scans)
      where exists (select from links l where l.code = u.code) order by u.code, u.hour, u.device
      on conflict (code, hour, device)
        do update set scans = link_scans.scans + excluded.scans`.execute(tx);
    await sql`
      with told as (
        insert into webhook_deliveries (webhook_id, kind, body)
        select w.id, 'link.scanned',
          json_build_object('scans',
          json_agg(json_build_object('code', u.code, 'list', l.list_id, 'record', l.record_id,
          'scans', u.scans)))
        from unnest(${[...by.keys()]}::text[], ${[...by.values()]}::int[]) as u(code, scans)
          join links l on l.code = u.code
          join webhooks w on w.open and 'link.scanned' = any (w.events)
            and (w.list_id is null or w.list_id = l.list_id)
        group by w.id returning 1)
      select webhooks_wait() from (select count(*) as n from told) t where t.n > 0`.execute(tx);
    await tx
      .deleteFrom('link_flushes')
      .where('at', '<', sql<Date>`now() - interval '1 day'`)
      .execute();
  });
}
