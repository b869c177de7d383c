import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import type { DeliveryView, WebhookView } from '../../contract';
import type { WebhookEvent } from '../../core/access/webhooks';
import { leadsTrouble } from '../../core/links/leading';
import { type Database, enqueue, Refusal, seal } from '../platform';
import { sendCard } from './sending';

export async function listWebhooks(db: Database): Promise<WebhookView[]> {
  const rows = await db
    .selectFrom('webhooks as w')
    .leftJoin('lists as l', 'l.id', 'w.list_id')
    .select((e) => [
      'w.id',
      'w.name',
      'w.address',
      'w.events',
      'w.open',
      'w.made_by',
      'w.trouble',
      'l.id as list',
      'l.name as list_name',
      e
        .selectFrom('webhook_deliveries as d')
        .whereRef('d.webhook_id', '=', 'w.id')
        .where('d.state', '=', 'waiting')
        .select((s) => s.fn.countAll<number>().as('n'))
        .as('waiting'),
    ])
    .orderBy('w.id')
    .execute();
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    address: row.address,
    events: row.events,
    list: row.list === null ? null : { id: row.list, name: row.list_name! },
    open: row.open,
    by: row.made_by,
    trouble: row.trouble,
    waiting: row.waiting ?? 0,
  }));
}

const viewOf = async (db: Database, id: number): Promise<WebhookView> => {
  const view = (await listWebhooks(db)).find((w) => w.id === id);
  if (!view) throw new Refusal('This webhook no longer exists. It may have been deleted.', 404);
  return view;
};

/**
 * Adds a webhook. @returns the secret that signs its calls (Standard Webhooks: `whsec_` and 24
 * bytes in base64)
 */
export async function makeWebhook(
  db: Database,
  wanted: { name: string; address: string; events: WebhookEvent[]; list: number | null },
  by: string,
): Promise<{ secret: string; view: WebhookView }> {
  const trouble = leadsTrouble({ parts: [{ kind: 'text', text: wanted.address }] }, new Set());
  if (trouble) throw new Refusal([trouble.message, trouble.mend].filter(Boolean).join(' '));
  const { username, password } = new URL(wanted.address);
  if (username || password)
    throw new Refusal('An address with a password in it is not stored. Calls are signed instead.');
  const secret = `whsec_${randomBytes(24).toString('base64')}`;
  const { id } = await db
    .insertInto('webhooks')
    .values({
      name: wanted.name,
      address: wanted.address,
      events: [...new Set(wanted.events)],
      list_id: wanted.list,
      secret: seal(secret),
      made_by: by,
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  return { secret, view: await viewOf(db, id) };
}

/**
 * Pauses or resumes a webhook: events in the meantime are not sent, and waiting deliveries keep
 * waiting.
 */
export async function changeWebhook(db: Database, id: number, open: boolean): Promise<WebhookView> {
  await db.transaction().execute(async (tx) => {
    await tx
      .updateTable('webhooks')
      .set({ open, ...(open ? { failing_since: null, trouble: null } : {}) })
      .where('id', '=', id)
      .execute();
    if (open) await enqueue(tx, sendCard, {}, { key: 'webhooks-send' });
  });
  return viewOf(db, id);
}

export async function removeWebhook(db: Database, id: number): Promise<void> {
  const { numDeletedRows } = await db
    .deleteFrom('webhooks')
    .where('id', '=', id)
    .executeTakeFirst();
  if (numDeletedRows === 0n)
    throw new Refusal('This webhook no longer exists. It may have been deleted.', 404);
}

export async function listDeliveries(db: Database, id: number): Promise<DeliveryView[]> {
  const rows = await db
    .selectFrom('webhook_deliveries')
    .selectAll()
    .where('webhook_id', '=', id)
    .orderBy('created_at', 'desc')
    .limit(100)
    .execute();
  return rows.map((row) => ({
    id: row.id,
    kind: row.kind,
    state: row.state,
    tries: row.tries,
    status: row.status,
    answer: row.answer,
    at: row.created_at.toISOString(),
    due: row.due_at.toISOString(),
    body: JSON.stringify(row.body),
  }));
}

/**
 * Sends a delivery again, at once and with the same id, so that a receiver that had it can tell.
 */
export async function deliverAgain(db: Database, id: number, delivery: string): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { numUpdatedRows } = await tx
      .updateTable('webhook_deliveries')
      .set({ state: 'waiting', tries: 0, due_at: sql<Date>`now()`, ended_at: null })
      .where('id', '=', delivery)
      .where('webhook_id', '=', id)
      .executeTakeFirst();
    if (numUpdatedRows === 0n)
      throw new Refusal('This no longer exists. It may have been deleted.', 404);
    await enqueue(tx, sendCard, {}, { key: 'webhooks-send' });
  });
}
