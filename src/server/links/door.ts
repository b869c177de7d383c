import { askDoorsCard } from './cards';
import { sql } from 'kysely';
import type { DoorHost, DoorReport } from '../../contract';
import { doorTrouble, hostOf, type DoorState } from '../../core/payload/door';
import { maskPayload } from '../../core/payload/secrets';
import { contentOf } from '../../core/payload/stamp';
import {
  clock,
  askAddress,
  askOptions,
  type Database,
  type DoorAnswer,
  enqueue,
} from '../platform';
import { stampOf } from '../jobs';

const batch = 5000;

/**
 * Every payload of a stamp with its record, in the list's order; and as it may be shown, its
 * secrets masked.
 */
async function* payloads(
  db: Database,
  jobId: number,
  stampId: string,
): AsyncGenerator<{ record: number; payload: string; shown: string }> {
  const { stamp, listId, columns } = await stampOf(db, jobId, stampId);
  for (let after = -1; ;) {
    const records = await db
      .selectFrom('records')
      .select(['id', 'position', 'values'])
      .where('list_id', '=', listId)
      .where('position', '>', after)
      .orderBy('position')
      .limit(batch)
      .execute();
    for (const { id, values } of records) {
      const content = contentOf(stamp, values);
      if (content.state === 'said')
        yield {
          record: id,
          payload: content.payload,
          shown: maskPayload(content.payload, stamp, values, columns),
        };
    }
    if (records.length < batch) return;
    after = records.at(-1)!.position;
  }
}

const isWeb = (payload: string): boolean => /^https?:\/\//i.test(payload);

/**
 * The hosts to which the codes of a stamp lead, those with problems first, and how their addresses
 * answered.
 */
export async function doorReport(
  db: Database,
  jobId: number,
  stampId: string,
): Promise<DoorReport> {
  const hosts = new Map<string, DoorHost>();
  const first = new Map<string, { record: number; shown: string }>();
  for await (const { record, payload, shown } of payloads(db, jobId, stampId)) {
    const trouble = doorTrouble(payload);
    // without a host, only the kind of problem tells them apart
    const nameless = trouble?.kind === 'no-scheme' || trouble?.kind === 'unreadable';
    const host = nameless ? trouble.kind : hostOf(payload);
    const known = hosts.get(host);
    if (known) known.records++;
    else
      hosts.set(host, {
        host: nameless ? shown.slice(0, 60) : host,
        records: 1,
        sample: shown,
        trouble,
      });
    if (isWeb(payload) && !first.has(payload)) first.set(payload, { record, shown });
  }
  const states = new Map<DoorState, DoorReport['states'][number]>();
  let asked = 0;
  const addresses = [...first.keys()];
  for (let from = 0; from < addresses.length; from += batch) {
    const answers = await db
      .selectFrom('answers')
      .selectAll()
      .where(sql<boolean>`address = any(${addresses.slice(from, from + batch)}::text[])`)
      .execute();
    for (const { address, state, status, leads_to: leadsTo } of answers) {
      asked++;
      const of = states.get(state as DoorState) ?? {
        state: state as DoorState,
        addresses: 0,
        samples: [],
      };
      of.addresses++;
      if (of.samples.length < 20) {
        const { record, shown } = first.get(address)!;
        // the target may repeat what is masked
        const on = shown === address ? leadsTo : leadsTo && new URL(leadsTo).origin;
        of.samples.push({ record, address: shown, status, leadsTo: on });
      }
      states.set(of.state, of);
    }
  }
  const { asking } = await db
    .selectFrom('jobs')
    .select('asking')
    .where('id', '=', jobId)
    .executeTakeFirstOrThrow();
  return {
    hosts: [...hosts.values()]
      .sort(
        (a, b) => Number(Boolean(b.trouble)) - Number(Boolean(a.trouble)) || b.records - a.records,
      )
      .slice(0, 200),
    addresses: addresses.length,
    asked,
    states: [...states.values()],
    asking: asking?.stamp === stampId ? { done: asking.done, of: asking.of } : null,
  };
}

/** With the user's leave: asks every distinct address of a stamp for its state, in a worker. */
export async function startAsking(db: Database, jobId: number, stampId: string): Promise<void> {
  const addresses = new Set<string>();
  for await (const { payload } of payloads(db, jobId, stampId))
    if (isWeb(payload)) addresses.add(payload);
  await db.transaction().execute(async (tx) => {
    // all of them again
    const all = [...addresses];
    for (let from = 0; from < all.length; from += batch) {
      const part = all.slice(from, from + batch);
      await tx
        .deleteFrom('answers')
        .where(sql<boolean>`address = any(${part}::text[])`)
        .execute();
      await sql`insert into door_asks select ${jobId}::int, ${stampId}, unnest(${part}::text[])
        on conflict do nothing`.execute(tx);
    }
    await tx
      .updateTable('jobs')
      .set({ asking: JSON.stringify({ stamp: stampId, done: 0, of: addresses.size }) })
      .where('id', '=', jobId)
      .execute();
    await enqueue(
      tx,
      askDoorsCard,
      { job: jobId, stamp: stampId },
      { key: `door-${jobId}`, priority: 1 },
    );
  });
}

/** Stops a check; results so far stay. */
export async function stopAsking(db: Database, jobId: number, stampId?: string): Promise<void> {
  let query = db.updateTable('jobs').set({ asking: null }).where('id', '=', jobId);
  if (stampId !== undefined) query = query.where(sql<boolean>`asking->>'stamp' = ${stampId}`);
  await query.execute();
}

/**
 * Addresses requested at a time, and the least time between two requests to one host, in ms; our
 * own stand-ins need no pause.
 */
const atATime = 4;
const pause = { others: 60, standIns: 5 };
/** Addresses in one task, so that a run does not wait for a long list. */
const inOneTask = 120;

/**
 * The worker's part: requests some of the addresses that have not answered yet, then queues itself
 * for the rest. Each is locked during its request, so that another worker takes others.
 */
export async function askDoors(db: Database, jobId: number, stampId: string): Promise<void> {
  const options = await askOptions(db);
  const mine = (tx: Database) =>
    tx.selectFrom('door_asks').where('job_id', '=', jobId).where('stamp', '=', stampId);
  await db.transaction().execute(async (tx) => {
    const held = await mine(tx)
      .select('address')
      .limit(inOneTask)
      .forUpdate()
      .skipLocked()
      .execute();
    const part = held.map((row) => row.address);
    const asked: string[] = [];
    const nextAt = new Map<string, number>();
    const work = async () => {
      for (let address = part.shift(); address !== undefined; address = part.shift()) {
        const host = hostOf(address);
        const at = Math.max(performance.now(), nextAt.get(host) ?? 0);
        nextAt.set(host, at + (host in options.standIns ? pause.standIns : pause.others));
        await new Promise((resolve) => setTimeout(resolve, at - performance.now()));
        // a worker has a connection left for it; an answer is kept although others fail
        // eslint-disable-next-line no-restricted-syntax
        await keepAnswer(db, address, await askAddress(address, options));
        asked.push(address);
        // nobody wants to know any more
        // eslint-disable-next-line no-restricted-syntax
        if (!(await countUp(db, jobId, stampId))) part.length = 0;
      }
    };
    await Promise.all(Array.from({ length: atATime }, work));
    await tx
      .deleteFrom('door_asks')
      .where('job_id', '=', jobId)
      .where('stamp', '=', stampId)
      .where(sql<boolean>`address = any(${asked}::text[])`)
      .execute();
  });
  const left = await mine(db).select('address').limit(1).executeTakeFirst();
  const { asking } = await db
    .selectFrom('jobs')
    .select('asking')
    .where('id', '=', jobId)
    .executeTakeFirstOrThrow();
  if (left && asking?.stamp === stampId)
    await enqueue(
      db,
      askDoorsCard,
      { job: jobId, stamp: stampId },
      { key: `door-${jobId}`, priority: 1 },
    );
  else await stopAsking(db, jobId, stampId);
}

async function keepAnswer(db: Database, address: string, answer: DoorAnswer): Promise<void> {
  const told = {
    state: answer.state,
    status: answer.status,
    leads_to: answer.leadsTo,
    asked_at: clock.date(),
  };
  await db
    .insertInto('answers')
    .values({ address, ...told })
    .onConflict((c) => c.column('address').doUpdateSet(told))
    .execute();
}

/** Counts an address that was asked; false when the asking was stopped. */
async function countUp(db: Database, jobId: number, stampId: string): Promise<boolean> {
  const { numUpdatedRows } = await db
    .updateTable('jobs')
    .set({
      asking: sql<string>`json_build_object('stamp', asking->>'stamp', 'of', (asking->>'of')::int,
        'done', least((asking->>'of')::int, (asking->>'done')::int + 1))`,
    })
    .where('id', '=', jobId)
    .where(sql<boolean>`asking->>'stamp' = ${stampId}`)
    .executeTakeFirst();
  return Number(numUpdatedRows) > 0;
}
