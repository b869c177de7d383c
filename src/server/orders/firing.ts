import { sql } from 'kysely';
import { chainOf } from '../../core/orders/chain';
import { sends, stepPauses, type Made, type Order } from '../../core/orders/order';
import { clock, type Database, ending, isAway, log, Refusal, RunError } from '../platform';
import { about, askConditions, doneBefore, type About } from './situation';
import { doerOf, type Did, NotYet, type Situation, StepTrouble } from './steps';
import { wakeWorkers } from './tell';

/** How long one task goes on, in ms. */
const slice = 10_000;

/** The worker's part: continues what was started, a step at a time, until nothing is due. */
export async function fireOrders(db: Database): Promise<void> {
  const until = performance.now() + slice;
  let did = true;
  while (did && performance.now() < until && !ending.now) did = await fireOne(db);
  const { rows } = await sql<{ seconds: number | null }>`
    select ceil(extract(epoch from min(f.due_at) - now()))::int as seconds
    from order_firings f join standing_orders o on o.id = f.order_id
    where f.state = 'waiting' and (o.paused_until is null or o.paused_until <= now())`.execute(db);
  const seconds = rows[0]?.seconds;
  if (seconds !== null && seconds !== undefined)
    await wakeWorkers(db, { inSeconds: Math.max(did ? 0 : 1, seconds), behind: did });
}

/** A firing as it is held while one step of it is done. */
interface Held {
  id: number;
  order_id: number;
  version: number;
  event_id: number;
  parent_id: number | null;
  record_id: number | null;
  thing: string;
  seq: number;
  conditions: unknown;
  chips: Record<string, string>;
  tries: number;
  approved_by: string | null;
  name: string;
  document: Order;
  before: Record<string, string> | null;
  chain: number[];
}

/**
 * Continues the next firing: all steps that work in the database alone, or one step that works
 * outside. The firing is locked by its row, so that two workers never do one step. The work of a
 * step is committed together with the mark that it is done: if a worker dies on the way, nothing of
 * it was done. For one thing, nothing starts before the earlier event has ended.
 * @returns whether there was one
 */
export async function fireOne(db: Database): Promise<boolean> {
  let held: Held | undefined;
  let from = performance.now();
  const after: NonNullable<Did['after']>[] = [];
  let failed: { error: unknown } | undefined;
  try {
    await db.transaction().execute(async (tx) => {
      held = await hold(tx);
      if (!held) return;
      await sql`select set_config('hand_stamp.chain',
        ${chainOf(held.order_id, held.chain).join(',')}, true)`.execute(tx);
      for (let first = true; held; first = false, from = performance.now()) {
        if (!first) await sql`savepoint step`.execute(tx);
        try {
          // a step that works outside asks by a connection of its own, one for each worker
          // eslint-disable-next-line no-restricted-syntax
          const { did, next } = await goOn(db, tx, held, from);
          if (did?.after) after.push(did.after);
          if (!next) return;
          held = { ...held, ...next };
        } catch (error) {
          if (first || isAway(error)) throw error;
          // the earlier steps are committed
          await sql`rollback to savepoint step`.execute(tx);
          failed = { error };
          return;
        }
        // a step that works outside starts once everything before it is committed
        const following = held.document.steps[held.seq];
        if (!following || doerOf(following).outside) return;
      }
    });
  } catch (error) {
    if (!held) throw error;
    await wentWrong(db, held, error, Math.round(performance.now() - from));
    return true;
  }
  for (const each of after) await each(db);
  if (failed && held) await wentWrong(db, held, failed.error, Math.round(performance.now() - from));
  return held !== undefined;
}

async function hold(tx: Database): Promise<Held | undefined> {
  const { rows } = await sql<Held>`
    select f.id, f.order_id, f.version, f.event_id, f.parent_id, f.record_id, f.thing, f.seq,
      f.conditions, f.chips, f.tries,
      f.approved_by, o.name, v.document, e.before, e.chain
    from order_firings f join standing_orders o on o.id = f.order_id
      join order_versions v on v.order_id = f.order_id and v.version = f.version
        join order_events e on e.id = f.event_id
    where f.state = 'waiting' and f.due_at <= clock_timestamp()
      and (o.paused_until is null or o.paused_until <= now())
      and not exists (select from order_firings p
        where p.order_id = f.order_id and p.thing = f.thing and p.id < f.id
        and p.state = 'waiting')
    order by f.due_at, f.id limit 1 for update of f skip locked`.execute(tx);
  return rows[0];
}

/** Checks the conditions. @returns whether it goes on */
async function begin(tx: Database, held: Held, of: About): Promise<boolean> {
  const { holds, each } = await askConditions(tx, held.document, of, async () =>
    doneBefore(tx, held.order_id, held.thing),
  );
  await tx
    .updateTable('order_firings')
    .set({
      conditions: JSON.stringify(each),
      ...(holds
        ? {}
        : {
            state: 'stopped' as const,
            why: each.findLast((one) => one && !one.holds)?.why ?? '',
            ended_at: clock.date(),
          }),
    })
    .where('id', '=', held.id)
    .execute();
  return holds;
}

/**
 * Checks the conditions if that was not done yet, and does the next step. @returns the position if
 * it goes on at once
 */
async function goOn(db: Database, tx: Database, held: Held, from: number): Promise<Gone> {
  const of = await about(tx, held.document, {
    record: held.record_id,
    before: held.before,
    chips: held.chips,
  });
  if (held.conditions === null && !(await begin(tx, held, of))) return {};
  return step(db, tx, held, of, from);
}

interface Gone {
  did?: Did;
  next?: Pick<Held, 'seq' | 'chips' | 'tries' | 'conditions'>;
}

async function step(
  db: Database,
  tx: Database,
  held: Held,
  of: About,
  from: number,
): Promise<Gone> {
  const { document, id, seq } = held;
  const own = document.steps[seq];
  if (!own) {
    await finish(tx, held);
    return {};
  }
  if (document.ask && sends(own) && held.approved_by === null) {
    await tx.updateTable('order_firings').set({ state: 'asking' }).where('id', '=', id).execute();
    return {};
  }
  const told = await tx
    .selectFrom('firing_steps')
    .select(['seq', 'state', 'made'])
    .where('firing_id', 'in', [id, ...(held.parent_id === null ? [] : [held.parent_id])])
    .orderBy('firing_id')
    .orderBy('seq')
    .execute();
  const doer = doerOf(own);
  const situation: Situation = {
    db: doer.outside ? db : tx,
    order: { id: held.order_id, name: held.name },
    firing: id,
    seq,
    chain: chainOf(held.order_id, held.chain),
    actor: `the standing order ${held.name}`,
    ...of,
    waitsFor: told.find((t) => t.seq === seq && t.state === 'waits')?.made ?? undefined,
    before: told.flatMap((t) => (t.state === 'did' && t.made ? [t.made] : [])),
  };
  const did = await doer.do(own, situation);
  await noteStep(
    tx,
    held,
    own.kind,
    did.waits === undefined ? 'did' : 'waits',
    did.words,
    did.made,
    from,
  );
  if (did.waits !== undefined) await later(tx, id, did.waits);
  else if (did.stops !== undefined) await end(tx, id, 'stopped', did.stops);
  else if (did.parts) {
    for (const part of did.parts)
      await tx
        .insertInto('order_firings')
        .values({
          order_id: held.order_id,
          version: held.version,
          event_id: held.event_id,
          part: `${own.id} ${part.name}`,
          parent_id: id,
          record_id: held.record_id,
          thing: `${held.thing} ${own.id} ${part.name}`,
          seq: seq + 1,
          conditions: '[]',
          chips: JSON.stringify({ ...held.chips, ...part.chips }),
          approved_by: held.approved_by,
        })
        .onConflict((c) => c.columns(['order_id', 'event_id', 'part']).doNothing())
        .execute();
    await finish(tx, held);
  } else {
    const chips = { ...held.chips, ...did.chips };
    await tx
      .updateTable('order_firings')
      .set({
        seq: seq + 1,
        tries: 0,
        ...(did.chips ? { chips: JSON.stringify(chips) } : {}),
      })
      .where('id', '=', id)
      .execute();
    if (seq + 1 >= document.steps.length) await finish(tx, held);
    else return { did, next: { seq: seq + 1, chips, tries: 0, conditions: [] } };
  }
  return { did };
}

const later = (tx: Database, id: number, seconds: number) =>
  tx
    .updateTable('order_firings')
    .set({ due_at: sql<Date>`clock_timestamp() + ${seconds} * interval '1 second'` })
    .where('id', '=', id)
    .execute();

async function finish(tx: Database, { id, order_id, thing }: Held): Promise<void> {
  await end(tx, id, 'done', null);
  await tx
    .insertInto('order_done')
    .values({ order_id, thing })
    .onConflict((c) => c.columns(['order_id', 'thing']).doUpdateSet({ at: clock.date() }))
    .execute();
}

const end = (tx: Database, id: number, state: 'done' | 'stopped' | 'failed', why: string | null) =>
  tx
    .updateTable('order_firings')
    .set({ state, why, ended_at: clock.date() })
    .where('id', '=', id)
    .execute();

async function noteStep(
  tx: Database,
  { id, seq, tries }: Pick<Held, 'id' | 'seq' | 'tries'>,
  kind: string,
  state: 'did' | 'failed' | 'waits',
  words: string,
  made: Made | undefined,
  from: number | { ms: number },
): Promise<void> {
  const ms = typeof from === 'number' ? Math.round(performance.now() - from) : from.ms;
  const row = { kind, state, words, made: made ? JSON.stringify(made) : null, tries: tries + 1 };
  await tx
    .insertInto('firing_steps')
    .values({ firing_id: id, seq, ...row, ms })
    .onConflict((c) =>
      c.columns(['firing_id', 'seq']).doUpdateSet((e) => ({
        ...row,
        ...(made ? {} : { made: e.ref('firing_steps.made') }),
        ms: sql<number>`firing_steps.ms + ${ms}`,
        at: clock.date(),
      })),
    )
    .execute();
}

/**
 * The rollback undid the step; the reason is stored, unless another worker has continued in the
 * meantime.
 */
async function wentWrong(db: Database, held: Held, error: unknown, ms: number): Promise<void> {
  if (isAway(error)) throw error;
  await db.transaction().execute(async (tx) => {
    const mine = await tx
      .selectFrom('order_firings')
      .select('id')
      .where('id', '=', held.id)
      .where('state', '=', 'waiting')
      .where('seq', '=', held.seq)
      .forUpdate()
      .executeTakeFirst();
    if (!mine) return;
    const own = held.document.steps[held.seq];
    if (error instanceof NotYet) {
      await tx
        .updateTable('firing_steps')
        .set({ words: error.message })
        .where('firing_id', '=', held.id)
        .where('seq', '=', held.seq)
        .where('state', '=', 'waits')
        .execute();
      return void (await later(tx, held.id, error.seconds));
    }
    const known =
      error instanceof StepTrouble || error instanceof Refusal || error instanceof RunError;
    if (!known) log.error({ err: error, order: held.order_id, firing: held.id }, 'a step failed');
    const words = known
      ? error.message
      : 'Something went wrong in Hand Stamp. Ask an administrator to check the server’s log.';
    // an unexpected error may pass; one with words passes only if it says so
    const passes = known ? error instanceof StepTrouble && error.passes : true;
    const pause = passes ? stepPauses[held.tries] : undefined;
    await noteStep(
      tx,
      held,
      own?.kind ?? 'conditions',
      pause === undefined ? 'failed' : 'waits',
      words,
      undefined,
      { ms },
    );
    if (pause === undefined) return void (await end(tx, held.id, 'failed', words));
    await tx
      .updateTable('order_firings')
      .set({
        tries: held.tries + 1,
        due_at: sql<Date>`clock_timestamp() + ${pause} * interval '1 second'`,
      })
      .where('id', '=', held.id)
      .execute();
  });
}
