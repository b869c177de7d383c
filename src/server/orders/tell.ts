import { sql } from 'kysely';
import { keyOf, keysIn } from '../../core/documents/keys';
import { mayStart } from '../../core/orders/chain';
import {
  eventOf,
  givenChip,
  listOf,
  startsFrom,
  type Order,
  type RecordEvent,
} from '../../core/orders/order';
import { nextAfter } from '../../core/orders/schedule';
import { keyColumn } from '../../core/records/columns';
import { clock, type Database, ending, enqueue, log, oneOf } from '../platform';
import { fireOrdersCard, lanesOfOrders, tellOrdersCard } from './cards';

/** Events per transaction. */
const atATime = 500;
/** How long one task goes on, in ms. */
const slice = 10_000;
/** Only one worker does this at a time, so that events of one thing are handled in order. */
const lock = [7304, 1] as const;

/**
 * The worker's part: records which orders start from which events, each once. One worker at a time;
 * what is not committed when it dies is done by the next.
 */
export async function tellOrders(db: Database, now = clock.now()): Promise<void> {
  const until = performance.now() + slice;
  await comeToTime(db, now);
  let more = true;
  while (more && performance.now() < until && !ending.now) more = (await tellSome(db)) === atATime;
  // a pause that is over, or an order whose worker died
  const due = await db
    .selectFrom('order_firings as f')
    .innerJoin('standing_orders as o', 'o.id', 'f.order_id')
    .select('f.id')
    .where('f.state', '=', 'waiting')
    .where('f.due_at', '<=', sql<Date>`now()`)
    .where((e) =>
      e.or([e('o.paused_until', 'is', null), e('o.paused_until', '<=', sql<Date>`now()`)]),
    )
    .limit(1)
    .executeTakeFirst();
  if (due) await wakeWorkers(db);
  const { rows } = await sql<{ seconds: number | null }>`
    select ceil(extract(epoch from min(due) - now()))::int as seconds from (
      select due_at as due from order_events where told_at is null
      union all select next_at from standing_orders
        where state = 'on' and kind = 'schedule' and next_at is not null) d`.execute(db);
  const seconds = rows[0]?.seconds;
  if (seconds !== null && seconds !== undefined && seconds < 3600)
    await enqueue(
      db,
      tellOrdersCard,
      {},
      { key: 'orders-tell', inSeconds: Math.max(seconds, more ? 0 : 1) },
    );
}

/** Puts workers to what waits. */
export async function wakeWorkers(
  db: Database,
  { inSeconds = 0, behind = false } = {},
): Promise<void> {
  for (let lane = 0; lane < lanesOfOrders; lane++)
    await enqueue(
      db,
      fireOrdersCard,
      { lane },
      // after a while others go first, so that neither a burst nor a long run blocks the workers
      { key: `orders-fire-${lane}`, inSeconds, priority: behind ? 0 : fireOrdersCard.priority },
    );
}

/**
 * Orders whose time has come by the schedule: each time once, and a time that passed while nothing
 * ran once too, late.
 */
async function comeToTime(db: Database, now: number): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const due = await tx
      .selectFrom('standing_orders')
      .select(['id', 'document', 'next_at'])
      .where('state', '=', 'on')
      .where('kind', '=', 'schedule')
      .where('next_at', '<=', new Date(now))
      .orderBy('id')
      .forUpdate()
      .skipLocked()
      .execute();
    for (const { id, document, next_at } of due) {
      if (document.when.kind !== 'schedule') continue;
      await tx
        .insertInto('order_events')
        .values({
          kind: 'schedule',
          order_id: id,
          thing: `order ${id}`,
          title: 'its time came',
          once: `clock ${id} ${next_at!.toISOString()}`,
          actor: 'the clock',
          at: next_at!,
        })
        .onConflict((c) => c.column('once').doNothing())
        .execute();
      await tx
        .updateTable('standing_orders')
        .set({ next_at: new Date(nextAfter(document.when.schedule, now)) })
        .where('id', '=', id)
        .execute();
    }
  });
}

interface Told {
  id: number;
  kind: string;
  order_id: number | null;
  list_id: number | null;
  record_id: number | null;
  change: string | null;
  thing: string;
  before: Record<string, string> | null;
  after: Record<string, string> | null;
  given: Record<string, string> | null;
  chain: number[];
  at: Date;
}
interface On {
  id: number;
  version: number;
  document: Order;
  on_since: Date | null;
  most: number;
  /** Firings of the last hour. */
  fired: number;
}

/** @returns the number of events */
async function tellSome(db: Database): Promise<number> {
  const told = await db.transaction().execute(async (tx) => {
    const { rows: mine } = await sql<{
      mine: boolean;
    }>`select pg_try_advisory_xact_lock(${lock[0]}, ${lock[1]}) as mine`.execute(tx);
    if (!mine[0]?.mine) return 0;
    const events = (await tx
      .selectFrom('order_events')
      .selectAll()
      .where('told_at', 'is', null)
      .where('due_at', '<=', sql<Date>`now()`)
      .orderBy('id')
      .limit(atATime)
      .forUpdate()
      .execute()) as Told[];
    if (events.length === 0) return 0;
    const orders = await ordersOn(tx);
    const changeOf = await changesIn(tx, events);
    const rows: {
      order_id: number;
      version: number;
      event_id: number;
      record_id: number | null;
      thing: string;
      state: 'waiting' | 'stopped';
      why: string | null;
      chips: string;
    }[] = [];
    for (const event of events)
      for (const order of orders) {
        if (!waitsFor(order, event, changeOf(event))) continue;
        const start = mayStart(order.id, event.chain);
        if (start.starts) order.fired++;
        const over = start.starts && order.fired > order.most;
        rows.push({
          order_id: order.id,
          version: order.version,
          event_id: event.id,
          record_id: event.record_id ?? (await recordOf(tx, order.document, event)),
          thing: event.thing,
          state: start.starts && !over ? 'waiting' : 'stopped',
          why: !start.starts ? start.why : over ? 'the order was stopped by its safety stop' : null,
          chips: JSON.stringify(
            Object.fromEntries(
              Object.entries(event.given ?? {}).map(([place, value]) => [givenChip(place), value]),
            ),
          ),
        });
      }
    for (const order of orders) if (order.fired > order.most) await stopItself(tx, order);
    // one at a time in their order, since numbers are given in the order of the rows
    for (let from = 0; from < rows.length; from += 1000)
      await tx
        .insertInto('order_firings')
        .values(
          rows.slice(from, from + 1000).map((row) => ({
            ...row,
            ...(row.state === 'stopped' ? { ended_at: clock.date() } : {}),
          })),
        )
        .onConflict((c) => c.columns(['order_id', 'event_id', 'part']).doNothing())
        .execute();
    await tx
      .updateTable('order_events')
      .set({ told_at: clock.date() })
      .where(sql<boolean>`id = any(${events.map((e) => e.id)}::bigint[])`)
      .execute();
    if (rows.some((row) => row.state === 'waiting')) await wakeWorkers(tx);
    return events.length;
  });
  return told;
}

async function ordersOn(tx: Database): Promise<On[]> {
  const rows = await tx
    .selectFrom('standing_orders as o')
    .select((e) => [
      'o.id',
      'o.version',
      'o.document',
      'o.on_since',
      e
        .selectFrom('order_firings as f')
        .whereRef('f.order_id', '=', 'o.id')
        .where('f.created_at', '>', sql<Date>`now() - interval '1 hour'`)
        .where('f.parent_id', 'is', null)
        .where((w) => w.or([w('f.state', '<>', 'stopped'), w('f.conditions', 'is not', null)]))
        .select((s) => s.fn.countAll<number>().as('n'))
        .as('fired'),
    ])
    .where('o.state', '=', 'on')
    .orderBy('o.id')
    .execute();
  return rows.map((row) => ({
    ...row,
    // a start by hand is intended, however many, and a schedule is not a flood
    most: ['hand', 'schedule'].includes(row.document.when.kind) ? Infinity : row.document.most,
    fired: Number(row.fired ?? 0),
  }));
}

async function stopItself(tx: Database, { id, most }: On): Promise<void> {
  const why = `It started more than ${most.toLocaleString('en')} times within an hour, so its safety stop turned it off. Check what it did, then turn it on again, or allow more starts.`;
  const stopped = await tx
    .updateTable('standing_orders')
    .set({ state: 'stopped', why })
    .where('id', '=', id)
    .where('state', '=', 'on')
    .returning('name')
    .executeTakeFirst();
  if (!stopped) return;
  await tx
    .insertInto('letters')
    .values({
      kind: 'order',
      subject: `${stopped.name} was stopped by its safety stop`,
      body: why,
      run_id: null,
      job_id: null,
    })
    .execute();
  log.warn({ order: id, most }, 'a standing order stopped itself');
}

/** What each event of a record means for orders that wait for records. */
async function changesIn(
  tx: Database,
  events: readonly Told[],
): Promise<(event: Told) => RecordEvent['change'] | undefined> {
  const ofRecords = events.filter((e) => e.kind === 'record' && e.list_id !== null);
  if (ofRecords.length === 0) return () => undefined;
  const lists = await tx
    .selectFrom('lists')
    .select(['id', 'columns'])
    .where(oneOf('id', [...new Set(ofRecords.map((e) => e.list_id!))]))
    .execute();
  const keys = new Map(lists.map(({ id, columns }) => [id, keyColumn(columns)?.id]));
  const records = await tx
    .selectFrom('records')
    .select(['id', 'values'])
    .where(oneOf('id', [...new Set(ofRecords.flatMap((e) => e.record_id ?? []))]))
    .execute();
  const now = new Map(records.map(({ id, values }) => [id, values]));
  return (event) =>
    eventOf(
      { change: event.change as 'came', before: event.before, after: event.after },
      keys.get(event.list_id ?? 0),
      now.get(event.record_id ?? 0),
    );
}

function waitsFor(
  { id, on_since, document: { when } }: On,
  event: Told,
  change: RecordEvent['change'] | undefined,
): boolean {
  if (event.order_id !== null) return event.order_id === id;
  if (on_since === null || event.at < on_since) return false;
  if (event.kind !== (when.kind === 'reaches' ? 'record' : when.kind)) return false;
  switch (when.kind) {
    case 'record':
    case 'reaches':
      return (
        change !== undefined &&
        startsFrom(when, {
          list: event.list_id ?? 0,
          change,
          before: event.before,
          after: event.after,
        })
      );
    case 'document': {
      const path = event.given?.['path'] ?? '';
      return (
        (when.folder === '' || path.startsWith(`${when.folder.replace(/\/+$/, '')}/`)) &&
        (when.again || event.change === 'came')
      );
    }
    case 'scan':
      return (
        event.list_id === when.list &&
        (when.of === 'link'
          ? event.change === 'link'
          : when.checkpoint === null
            ? event.change !== 'link'
            : event.change === `checkpoint ${when.checkpoint}`)
      );
    // these are for one order alone
    case 'call':
    case 'hand':
    case 'schedule':
      return false;
  }
}

/** The record of a file or a call, by the key in its name or in its values. */
export async function recordOf(
  db: Database,
  { when }: Pick<Order, 'when'>,
  event: Pick<Told, 'given'>,
): Promise<number | null> {
  const list = listOf(when);
  if (list === null || (when.kind !== 'document' && when.kind !== 'call')) return null;
  const row = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', list)
    .executeTakeFirst();
  const key = row && keyColumn(row.columns);
  if (!key) return null;
  const keys =
    when.kind === 'call'
      ? [keyOf(event.given?.[when.key] ?? '')].filter(Boolean)
      : keysIn((event.given?.['name'] ?? '').replace(/\.\w+$/, ''), 4);
  if (keys.length === 0) return null;
  const found = await sql<{ id: number; key: string }>`
    select id, k as key from (
      select id, position,
        regexp_replace(lower(normalize(coalesce(values->>${key.id}, ''), NFKC)), '[^[:alnum:]]+',
        '', 'g') as k
      from records where list_id = ${list}) r
    where k = any(${keys}::text[]) order by length(k) desc, position limit 2`.execute(db);
  const [first, second] = found.rows;
  // two records have this key: nobody knows which is meant
  return first && first.key !== second?.key ? first.id : null;
}
