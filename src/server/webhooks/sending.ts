import { sql } from 'kysely';
import { Webhook } from 'standardwebhooks';
import * as z from 'zod';
import { webhookPauses } from '../../core/access/webhooks';
import {
  clock,
  askOptions,
  type Database,
  defineTask,
  enqueue,
  postTo,
  taskCard,
  unseal,
} from '../platform';

export const sendCard = taskCard('webhooks.send', z.looseObject({}), { priority: 3 });

/** Deliveries in one task, and how long it goes on, in ms. */
const inOneTask = { most: 100, ms: 60_000 };
/** How long what was told is kept, in days. */
const keptDays = 30;

/**
 * The worker's part: tells what is due, each while it is held, so that another worker tells
 * something else and nothing is told by two. One whose worker dies before its answer is noted is
 * told again, under the same id.
 */
export async function sendDue(db: Database): Promise<void> {
  const until = performance.now() + inOneTask.ms;
  let sent = 0;
  while (sent < inOneTask.most && performance.now() < until && (await sendOne(db))) sent++;
  await db
    .deleteFrom('webhook_deliveries')
    .where('ended_at', '<', sql<Date>`now() - ${keptDays} * interval '1 day'`)
    .execute();
  const next = await db
    .selectFrom('webhook_deliveries as d')
    .innerJoin('webhooks as w', 'w.id', 'd.webhook_id')
    .select((e) => e.fn.min('d.due_at').as('due'))
    .where('d.state', '=', 'waiting')
    .where('w.open', '=', true)
    .executeTakeFirst();
  if (!next?.due) return;
  const inSeconds = Math.max(
    sent === 0 ? 1 : 0,
    Math.ceil((next.due.getTime() - clock.now()) / 1000),
  );
  await enqueue(db, sendCard, {}, { key: 'webhooks-send', inSeconds });
}

async function sendOne(db: Database): Promise<boolean> {
  const options = await askOptions(db);
  return db.transaction().execute(async (tx) => {
    const one = await tx
      .selectFrom('webhook_deliveries as d')
      .innerJoin('webhooks as w', 'w.id', 'd.webhook_id')
      .select(['d.id', 'd.kind', 'd.body', 'd.tries', 'd.created_at', 'w.address', 'w.secret'])
      .where('d.state', '=', 'waiting')
      .where('w.open', '=', true)
      .where('d.due_at', '<=', sql<Date>`clock_timestamp()`)
      .orderBy('d.due_at')
      .limit(1)
      .forUpdate('d')
      .skipLocked()
      .executeTakeFirst();
    if (!one) return false;
    const body = JSON.stringify({
      type: one.kind,
      timestamp: one.created_at.toISOString(),
      data: one.body,
    });
    const now = clock.date();
    const told = await postTo(one.address, options, body, {
      'content-type': 'application/json',
      'webhook-id': one.id,
      'webhook-timestamp': String(Math.floor(now.getTime() / 1000)),
      'webhook-signature': new Webhook(unseal(one.secret)).sign(one.id, now, body),
    });
    const good = told.status !== null && told.status >= 200 && told.status < 300;
    const pause = webhookPauses[one.tries];
    // 410: whoever is there says that it is told nothing any more
    const over = !good && (pause === undefined || told.status === 410);
    await tx
      .updateTable('webhook_deliveries')
      .set({
        state: good ? 'delivered' : over ? 'failed' : 'waiting',
        tries: one.tries + 1,
        status: told.status,
        answer: told.words,
        ...(good || over ? { ended_at: clock.date() } : {}),
        ...(good || over ? {} : { due_at: new Date(clock.now() + pause! * 60_000) }),
      })
      .where('id', '=', one.id)
      .execute();
    return true;
  });
}

export const webhookTasks = [defineTask(sendCard, (db) => sendDue(db))];
