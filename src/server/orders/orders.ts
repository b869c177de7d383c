import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import type { OrderLine, OrderView } from '../../contract';
import {
  orderSchema,
  listOf,
  orderTrouble,
  placesIn,
  withoutSecrets,
  type Order,
} from '../../core/orders/order';
import { saysOrder } from '../../core/orders/says';
import { nextAfter } from '../../core/orders/schedule';
import { clock, baseAddress, type Database, enqueue, Refusal, seal } from '../platform';
import { tellOrdersCard } from './cards';
import { namesFor } from './names';

/** The field before a sealed value in an order's document; re-sealing finds it by this. */
const sealedMark = 'sealed:';

const goneWords = 'This standing order no longer exists. It may have been deleted.';

const rowOf = async (db: Database, id: number, lock = false) => {
  const query = db.selectFrom('standing_orders').selectAll().where('id', '=', id);
  const row = await (lock ? query.forUpdate() : query).executeTakeFirst();
  if (!row) throw new Refusal(goneWords, 404);
  return row;
};

export async function listOrders(db: Database): Promise<OrderLine[]> {
  const rows = await db
    .selectFrom('standing_orders as o')
    .select(['o.id', 'o.name', 'o.state', 'o.why', 'o.paused_until', 'o.document'])
    .select((e) => [
      e
        .selectFrom('order_firings as f')
        .whereRef('f.order_id', '=', 'o.id')
        .where('f.created_at', '>', sql<Date>`now() - interval '1 day'`)
        .select(
          sql<{
            done: number;
            failed: number;
          }>`json_build_object('done', count(*) filter (where f.state = 'done'), 'failed',
            count(*) filter (where f.state = 'failed'))`.as('day'),
        )
        .as('day'),
      e
        .selectFrom('order_firings as f')
        .whereRef('f.order_id', '=', 'o.id')
        .where('f.state', '=', 'asking')
        .select((s) => s.fn.countAll<number>().as('n'))
        .as('asking'),
    ])
    .orderBy('o.name')
    .orderBy('o.id')
    .execute();
  const names = await namesFor(db);
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    state: row.state,
    why: row.why,
    pausedUntil: ahead(row.paused_until),
    byHand: row.state === 'on' && row.document.when.kind === 'hand' ? row.document.when.list : null,
    says: saysOrder(row.document, names(row.document)),
    day: {
      done: row.day?.done ?? 0,
      failed: row.day?.failed ?? 0,
      asking: Number(row.asking ?? 0),
    },
  }));
}

/** When a pause ends, unless it has. */
const ahead = (until: Date | null): string | null =>
  until && until.getTime() > clock.now() ? until.toISOString() : null;

export async function viewOrder(db: Database, id: number): Promise<OrderView> {
  const row = await rowOf(db, id);
  const document = orderSchema.parse(row.document);
  return {
    id,
    name: row.name,
    state: row.state,
    why: row.why,
    pausedUntil: ahead(row.paused_until),
    document: withoutSecrets(document),
    version: row.version,
    canUndo: row.version > 1,
    changedBy: row.changed_by,
    changedAt: row.changed_at.toISOString(),
    trouble: (await troubleOf(db, document)) ?? null,
    next: row.state === 'on' && row.next_at ? row.next_at.toISOString() : null,
    call:
      row.kind === 'call' && row.token
        ? {
            address: `${await baseAddress(db)}/api/calls/${row.token}`,
            places: [...placesIn(row.example)].map(([place, value]): [string, string] => [
              place,
              value.slice(0, 200),
            ]),
          }
        : null,
  };
}

/**
 * What keeps it from being turned on: in its sentence, or because something it uses was deleted.
 */
async function troubleOf(db: Database, document: Order): Promise<string | undefined> {
  const list = listOf(document.when);
  const columns =
    list === null
      ? []
      : (await db.selectFrom('lists').select('columns').where('id', '=', list).executeTakeFirst())
          ?.columns;
  if (!columns) return 'Its list was deleted. Choose another.';
  return orderTrouble(document, columns) ?? (await jobTrouble(db, list, document));
}

/** What keeps the jobs and stamps of an order from working for its records, in words. */
async function jobTrouble(
  db: Database,
  list: number | null,
  { steps }: Order,
): Promise<string | undefined> {
  let of = list;
  for (const step of steps) {
    if (step.kind === 'each') of = step.list;
    if (step.kind !== 'make' && step.kind !== 'picture' && step.kind !== 'take') continue;
    const job = await db
      .selectFrom('jobs')
      .innerJoin('lists', 'lists.id', 'jobs.list_id')
      .select(['jobs.name', 'jobs.list_id', 'lists.stamps', 'lists.name as list'])
      .where('jobs.id', '=', step.job)
      .executeTakeFirst();
    if (!job) return 'A job that it uses was deleted. Choose another.';
    const forRecord = step.kind === 'picture' || (step.kind === 'make' && step.which === 'record');
    if (forRecord && job.list_id !== of)
      return `The job ${job.name} belongs to the list ${job.list}, and this order uses another list. Choose a job of its own list.`;
    if (step.kind === 'picture' && !job.stamps.some((stamp) => stamp.id === step.stamp))
      return 'A stamp that it uses was deleted. Choose another.';
  }
  return undefined;
}

export async function makeOrder(
  db: Database,
  { name, document }: { name: string; document: Order },
  actor: string,
): Promise<number> {
  return db.transaction().execute(async (tx) => {
    const sealed = sealedIn(document, undefined);
    const { id } = await tx
      .insertInto('standing_orders')
      .values({ name, changed_by: actor, ...(await placed(tx, sealed)) })
      .returning('id')
      .executeTakeFirstOrThrow();
    await keepVersion(tx, id, 1, name, sealed, actor);
    return id;
  });
}

/** The columns of the table that follow from an order's sentence. */
async function placed(tx: Database, document: Order) {
  const list = listOf(document.when);
  const there =
    list !== null &&
    (await tx.selectFrom('lists').select('id').where('id', '=', list).executeTakeFirst());
  if (list !== null && !there) throw new Refusal('Its list was deleted. Choose another.', 404);
  return {
    document: JSON.stringify(document),
    list_id: list,
    kind: document.when.kind,
    ...(document.when.kind === 'call' ? { token: randomBytes(16).toString('base64url') } : {}),
  };
}

const keepVersion = (
  tx: Database,
  id: number,
  version: number,
  name: string,
  document: Order,
  actor: string,
) =>
  tx
    .insertInto('order_versions')
    .values({ order_id: id, version, name, document: JSON.stringify(document), made_by: actor })
    .execute();

/**
 * Seals the values of secret headers. A blank one stays as it was, if the web address of the call
 * stays the same: it is never sent to another.
 * @throws Refusal if it would be
 */
function sealedIn(document: Order, earlier: Order | undefined): Order {
  return {
    ...document,
    steps: document.steps.map((step) => {
      if (step.kind !== 'call') return step;
      const before = earlier?.steps.find((s) => s.kind === 'call' && s.id === step.id);
      return {
        ...step,
        headers: step.headers.map((header) => {
          if (!header.secret) {
            if (header.value.startsWith(sealedMark))
              throw new Refusal(
                `The value of the header ${header.name} cannot start like that. Enter it again.`,
              );
            return header;
          }
          if (header.value.length > 2000)
            throw new Refusal(`The value of the header ${header.name} is too long. Shorten it.`);
          if (header.value !== '')
            return { ...header, value: `${sealedMark}${seal(header.value)}` };
          const kept =
            before?.kind === 'call' &&
            before.headers.find((h) => h.secret && h.name === header.name);
          if (!kept) throw new Refusal(`Enter a value for the header ${header.name}.`);
          if (before.kind === 'call' && JSON.stringify(before.to) !== JSON.stringify(step.to))
            throw new Refusal(
              `The web address changed, so enter the value of the secret header ${header.name} again.`,
            );
          return { ...header, value: kept.value };
        }),
      };
    }),
  };
}

/** Changes an order, as a new version. @throws Refusal 409 if it was changed in the meantime */
export async function changeOrder(
  db: Database,
  id: number,
  { version, name, document }: { version: number; name: string; document: Order },
  actor: string,
): Promise<OrderView> {
  await db.transaction().execute(async (tx) => {
    const row = await rowOf(tx, id, true);
    checkVersion(row.version, version);
    await writeOrder(tx, row, name, sealedIn(document, row.document), actor);
  });
  return viewOrder(db, id);
}

function checkVersion(is: number, thought: number): void {
  if (is !== thought)
    throw new Refusal(
      'Someone changed this in another window. You now see their version. Make your change again if you still want it.',
      409,
    );
}

async function writeOrder(
  tx: Database,
  row: Awaited<ReturnType<typeof rowOf>>,
  name: string,
  document: Order,
  actor: string,
): Promise<void> {
  const trouble = await troubleOf(tx, document);
  if (row.state === 'on' && trouble)
    throw new Refusal(`${trouble} Or turn the order off first: it is on and would fail.`);
  const { token, ...own } = await placed(tx, document);
  await tx
    .updateTable('standing_orders')
    .set({
      name,
      ...own,
      // a web address that was given out stays
      ...(token && row.token === null ? { token } : {}),
      version: row.version + 1,
      changed_by: actor,
      changed_at: clock.date(),
      next_at: row.state === 'on' ? nextOf(document) : null,
    })
    .where('id', '=', row.id)
    .execute();
  await keepVersion(tx, row.id, row.version + 1, name, document, actor);
  if (row.state === 'on') await enqueue(tx, tellOrdersCard, {}, { key: 'orders-tell' });
}

const nextOf = ({ when }: Order): Date | null =>
  when.kind === 'schedule' ? new Date(nextAfter(when.schedule, clock.now())) : null;

/** Restores an order as before its last change, as a new version, so that it can be undone. */
export async function undoOrder(
  db: Database,
  id: number,
  version: number,
  actor: string,
): Promise<OrderView> {
  await db.transaction().execute(async (tx) => {
    const row = await rowOf(tx, id, true);
    checkVersion(row.version, version);
    const before = await tx
      .selectFrom('order_versions')
      .selectAll()
      .where('order_id', '=', id)
      .where('version', '=', row.version - 1)
      .executeTakeFirst();
    if (!before) throw new Refusal('There is nothing to undo.');
    await writeOrder(tx, row, before.name, before.document, actor);
  });
  return viewOrder(db, id);
}

/**
 * Turns an order on or off. What waits when it is turned off is dropped; while it is paused until a
 * day, events wait.
 * @throws Refusal if it could not work
 */
export async function switchOrder(
  db: Database,
  id: number,
  { state, pausedUntil }: { state: 'on' | 'off'; pausedUntil: string | null },
  actor: string,
): Promise<OrderView> {
  await db.transaction().execute(async (tx) => {
    const row = await rowOf(tx, id, true);
    if (state === 'on') {
      const trouble = await troubleOf(tx, row.document);
      if (trouble) throw new Refusal(trouble);
      if (pausedUntil !== null && Date.parse(pausedUntil) <= clock.now())
        throw new Refusal('That day is in the past. Choose a later day.');
      if (row.kind === 'call' && row.secret === null)
        throw new Refusal(
          'Create a secret first. Programs must send it when they call this order.',
        );
    }
    await tx
      .updateTable('standing_orders')
      .set({
        state,
        why: null,
        ...(state === 'on' && row.state !== 'on' ? { on_since: sql<Date>`clock_timestamp()` } : {}),
        paused_until: state === 'on' ? pausedUntil : null,
        next_at: state === 'on' ? (row.state === 'on' ? row.next_at : nextOf(row.document)) : null,
        changed_by: actor,
        changed_at: clock.date(),
      })
      .where('id', '=', id)
      .execute();
    if (state === 'off')
      await tx
        .updateTable('order_firings')
        .set({
          state: 'stopped',
          why: 'the order was turned off before its turn',
          ended_at: clock.date(),
        })
        .where('order_id', '=', id)
        .where('state', 'in', ['waiting', 'asking'])
        .execute();
    else await enqueue(tx, tellOrdersCard, {}, { key: 'orders-tell' });
  });
  return viewOrder(db, id);
}

export async function removeOrder(db: Database, id: number): Promise<void> {
  const { numDeletedRows } = await db
    .deleteFrom('standing_orders')
    .where('id', '=', id)
    .executeTakeFirst();
  if (numDeletedRows === 0n) throw new Refusal(goneWords, 404);
}
