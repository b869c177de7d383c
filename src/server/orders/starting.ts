import { randomBytes, timingSafeEqual, createHash } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { placesIn } from '../../core/orders/order';
import { takeTry } from '../access';
import { bytesOf, type Database, enqueue, oneOf, Refusal, seal, unseal } from '../platform';
import { tellOrdersCard } from './cards';
import { titleOf } from './title';
import { chainHeader } from './steps';

/** Starts an order for some records, once for each. @returns how many were started */
export async function fireByHand(
  db: Database,
  id: number,
  records: readonly number[],
  actor: string,
): Promise<number> {
  return db.transaction().execute(async (tx) => {
    const order = await tx
      .selectFrom('standing_orders')
      .select(['state', 'list_id', 'kind'])
      .where('id', '=', id)
      .executeTakeFirst();
    if (!order)
      throw new Refusal('This standing order no longer exists. It may have been deleted.', 404);
    if (order.state !== 'on')
      throw new Refusal('This standing order is off. Turn it on first.', 409);
    if (order.list_id === null || order.kind !== 'hand')
      throw new Refusal(
        'This standing order starts by itself, not by hand. To start it by hand, change its beginning.',
      );
    const list = await tx
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', order.list_id)
      .executeTakeFirstOrThrow();
    const rows = await tx
      .selectFrom('records')
      .select(['id', 'values'])
      .where('list_id', '=', order.list_id)
      .where(oneOf('id', [...new Set(records)]))
      .orderBy('position')
      .execute();
    if (rows.length === 0)
      throw new Refusal('These records are not in its list. Choose records of its list.');
    await tx
      .insertInto('order_events')
      .values(
        rows.map((row) => ({
          kind: 'hand' as const,
          order_id: id,
          list_id: order.list_id,
          record_id: row.id,
          thing: `record ${row.id}`,
          title: titleOf(list.columns, row.values),
          actor,
        })),
      )
      .execute();
    await enqueue(tx, tellOrdersCard, {}, { key: 'orders-tell' });
    return rows.length;
  });
}

/**
 * Gives an order's address a secret (`whsec_` and 24 bytes in base64, as in Standard Webhooks),
 * returned this once.
 */
export async function newCallSecret(db: Database, id: number): Promise<string> {
  const secret = `whsec_${randomBytes(24).toString('base64')}`;
  const { numUpdatedRows } = await db
    .updateTable('standing_orders')
    .set({ secret: seal(secret) })
    .where('id', '=', id)
    .where('kind', '=', 'call')
    .executeTakeFirst();
  if (numUpdatedRows === 0n)
    throw new Refusal(
      'Programs cannot call this standing order. Choose “a program calls” as its beginning first.',
      404,
    );
  return secret;
}

/**
 * Most that a call brings, in bytes, and how often an address is called in a quarter of an hour
 * with what does not open it.
 */
const most = { bytes: 256 * 2 ** 10, wrong: 30 };
const closed = () =>
  new Refusal(
    'There is nothing at this address, or the secret is wrong. Check both in the standing order.',
    404,
  );

/**
 * A program calls an order. A repeated call, by its `webhook-id` or `idempotency-key`, counts once.
 * Its values are stored as the example for the sentence, also while the order is off.
 * @returns whether the order is on and starts from it
 */
export async function callOrder(
  db: Database,
  token: string,
  request: Request,
): Promise<{ taken: boolean }> {
  const order = await db
    .selectFrom('standing_orders')
    .select(['id', 'secret', 'state', 'kind', 'name'])
    .where('token', '=', token)
    .executeTakeFirst();
  if (!order?.secret || order.kind !== 'call') throw closed();
  const body = (
    await bytesOf(
      request,
      most.bytes,
      () =>
        new Refusal(
          'This is too much for one call: at most 256 kB of JSON. Send it in several calls.',
          413,
        ),
    )
  ).toString();
  if (!opens(unseal(order.secret), request.headers, body)) {
    await takeTry(db, 'call-order', token, most.wrong);
    throw closed();
  }
  let sent: unknown;
  try {
    sent = body.trim() === '' ? {} : JSON.parse(body);
  } catch {
    throw new Refusal('This is not JSON. Check the format.');
  }
  if (sent === null || typeof sent !== 'object')
    throw new Refusal('Send a JSON object whose values have names.');
  const places = placesIn(sent);
  const given = Object.fromEntries(
    [...places].map(([place, value]) => [keepable(place), keepable(value).slice(0, 5000)]),
  );
  const id = request.headers.get('webhook-id') ?? request.headers.get('idempotency-key');
  const chain = (request.headers.get(chainHeader) ?? '')
    .split(',')
    .map(Number)
    .filter((n) => Number.isInteger(n) && n > 0)
    .slice(0, 8);
  await db.transaction().execute(async (tx) => {
    await tx
      .updateTable('standing_orders')
      .set({ example: JSON.stringify(given) })
      .where('id', '=', order.id)
      .execute();
    if (order.state !== 'on') return;
    await tx
      .insertInto('order_events')
      .values({
        kind: 'call',
        order_id: order.id,
        thing: id
          ? `call ${order.id} ${id.slice(0, 100)}`
          : `call ${order.id} ${randomBytes(8).toString('hex')}`,
        title:
          Object.values(given)
            .find((v) => v.trim() !== '')
            ?.slice(0, 80) ?? '',
        given: JSON.stringify(given),
        once: id === null ? null : `call ${order.id} ${id.slice(0, 200)}`,
        chain,
        actor: 'a program',
      })
      .onConflict((c) => c.column('once').doNothing())
      .execute();
    await enqueue(tx, tellOrdersCard, {}, { key: 'orders-tell' });
  });
  return { taken: order.state === 'on' };
}

/** A text without what the database cannot store: NUL, and half characters. */
const keepable = (text: string): string => Buffer.from(text).toString().replaceAll('\0', '');

/** Whether a call brings the secret, or is signed with it not long ago. */
function opens(secret: string, headers: Headers, body: string): boolean {
  const brought = /^Bearer\s+(\S+)$/i.exec(headers.get('authorization') ?? '')?.[1];
  const hash = (text: string) => createHash('sha256').update(text).digest();
  if (brought !== undefined) return timingSafeEqual(hash(brought), hash(secret));
  try {
    new Webhook(secret).verify(body, Object.fromEntries(headers.entries()));
    return true;
  } catch {
    return false;
  }
}
