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

/** How long a task goes on, in ms, and how many receivers it calls at a time. */
const inOneTask = { ms: 60_000, receivers: 16 };
/** How long a delivery is held by who sends it, in seconds: longer than an answer is waited for. */
const heldSeconds = 120;
/** How long deliveries are stored, in days. */
const keptDays = 30;
/** After how many days of failures only a webhook is stopped. */
const givenUpDays = 3;

interface Due {
  id: string;
  webhook: number;
  name: string;
  kind: string;
  body: unknown;
  tries: number;
  created_at: Date;
  address: string;
  secret: string;
  failing_since: Date | null;
}

/**
 * The worker's part: sends what is due, each receiver separately, so that a slow or broken one
 * delays nobody else. A delivery is reserved for two minutes, so that another worker sends
 * something else. If a worker dies before it stores the answer, it is sent again after that, with
 * the same id.
 */
export async function sendDue(db: Database): Promise<void> {
  const until = performance.now() + inOneTask.ms;
  const busy = new Map<number, Promise<void>>();
  /** Receivers that failed just now have a rest until the next task. */
  const failed = new Set<number>();
  do {
    const due = await receiversDue(db, [...busy.keys(), ...failed]);
    for (const webhook of due.slice(0, inOneTask.receivers - busy.size))
      busy.set(
        webhook,
        tellInTurn(db, webhook, until)
          .then((good) => void (good || failed.add(webhook)))
          .finally(() => busy.delete(webhook)),
      );
    // while it waits for a slow receiver, it sends what arrives for others
    if (busy.size > 0) await Promise.race([...busy.values(), pause(250)]);
  } while (busy.size > 0);
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
  const inSeconds = Math.max(1, Math.ceil((next.due.getTime() - clock.now()) / 1000));
  await enqueue(db, sendCard, {}, { key: 'webhooks-send', inSeconds });
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

async function receiversDue(db: Database, without: readonly number[]): Promise<number[]> {
  const rows = await db
    .selectFrom('webhook_deliveries as d')
    .innerJoin('webhooks as w', 'w.id', 'd.webhook_id')
    .select('d.webhook_id as id')
    .where('d.state', '=', 'waiting')
    .where('w.open', '=', true)
    .where('d.due_at', '<=', sql<Date>`clock_timestamp()`)
    .where('d.webhook_id', 'not in', [...without, -1])
    .groupBy('d.webhook_id')
    .orderBy((e) => e.fn.min('d.due_at'))
    .execute();
  return rows.map((row) => row.id);
}

/** Sends one receiver what is due, one after the other. Returns false if something failed. */
async function tellInTurn(db: Database, webhook: number, until: number): Promise<boolean> {
  for (;;) {
    const one = performance.now() < until ? await take(db, webhook) : undefined;
    if (!one) return true;
    if (!(await tell(db, one))) return false;
  }
}

/** Reserves the next due delivery of a receiver: nobody else sends it in the meantime. */
async function take(db: Database, webhook: number): Promise<Due | undefined> {
  const { rows } = await sql<Due>`
    update webhook_deliveries d
      set due_at = clock_timestamp() + ${heldSeconds} * interval '1 second'
      from webhooks w
      where w.id = d.webhook_id and w.open and d.id = (
        select id from webhook_deliveries
          where webhook_id = ${webhook} and state = 'waiting' and due_at <= clock_timestamp()
          order by created_at, id limit 1 for update skip locked)
      returning d.id, w.id as webhook, w.name, d.kind, d.body, d.tries, d.created_at, w.address,
        w.secret, w.failing_since`.execute(db);
  return rows[0];
}

async function tell(db: Database, one: Due): Promise<boolean> {
  const told = await post(db, one);
  const good = told.status !== null && told.status >= 200 && told.status < 300;
  const next = webhookPauses[one.tries];
  const end = good ? undefined : endOf(one, told);
  const over = !good && (next === undefined || end !== undefined);
  await db.transaction().execute(async (tx) => {
    await tx
      .updateTable('webhook_deliveries')
      .set({
        state: good ? 'delivered' : over ? 'failed' : 'waiting',
        tries: one.tries + 1,
        status: told.status,
        answer: told.words,
        ...(good || over ? { ended_at: clock.date() } : {}),
        ...(good || over ? {} : { due_at: new Date(clock.now() + next! * 60_000) }),
      })
      .where('id', '=', one.id)
      .execute();
    await tx
      .updateTable('webhooks')
      .set(
        good
          ? { failing_since: null, trouble: null }
          : { failing_since: one.failing_since ?? clock.date() },
      )
      .where('id', '=', one.webhook)
      .execute();
    if (end !== undefined) await giveUp(tx, one, end);
  });
  return good;
}

type Answer = { status: number | null; words: string; opened: boolean };

async function post(db: Database, one: Due): Promise<Answer> {
  const body = JSON.stringify({
    type: one.kind,
    timestamp: one.created_at.toISOString(),
    data: one.body,
  });
  const now = clock.date();
  let signature: string;
  try {
    signature = new Webhook(unseal(one.secret)).sign(one.id, now, body);
  } catch {
    return { status: null, words: 'its secret cannot be opened', opened: false };
  }
  const told = await postTo(one.address, await askOptions(db), body, {
    'content-type': 'application/json',
    'webhook-id': one.id,
    'webhook-timestamp': String(Math.floor(now.getTime() / 1000)),
    'webhook-signature': signature,
  });
  return { ...told, opened: true };
}

/** Why a webhook is stopped, in words; undefined if it is tried again. */
function endOf({ failing_since }: Due, { status, opened }: Answer): string | undefined {
  if (!opened)
    return 'Its secret cannot be opened with the key of this installation. Delete the webhook and add it again.';
  // the receiver says that it wants no more calls (RFC 9110, 410 Gone)
  if (status === 410) return 'It answered that it wants no more calls (410).';
  const days = failing_since ? (clock.now() - failing_since.getTime()) / 86_400_000 : 0;
  return days >= givenUpDays
    ? `It has not accepted anything for ${givenUpDays} days. Check that it runs and that the address is right.`
    : undefined;
}

/** Stops a webhook, and reports it to people: on its page and in the Post room. */
async function giveUp(tx: Database, { webhook, name }: Due, why: string): Promise<void> {
  const { numUpdatedRows } = await tx
    .updateTable('webhooks')
    .set({ open: false, trouble: why })
    .where('id', '=', webhook)
    .where('open', '=', true)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) return;
  await tx
    .insertInto('letters')
    .values({
      kind: 'program',
      subject: `${name} was paused`,
      body: `${why} An administrator can turn it on again under Programs.`,
      run_id: null,
      job_id: null,
    })
    .execute();
}

export const webhookTasks = [defineTask(sendCard, (db) => sendDue(db))];
