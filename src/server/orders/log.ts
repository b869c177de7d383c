import { sql } from 'kysely';
import type { Firing } from '../../contract';
import { clock, type Database, enqueue, Refusal } from '../platform';
import { fireOrdersCard } from './cards';
import { titleOf } from './title';
import { wakeWorkers } from './tell';

const shown = 60;

/** What orders did, step by step, the latest first. @param before only those before this number */
export async function listFirings(
  db: Database,
  { order, state, before }: { order?: number; state?: Firing['state']; before?: number },
): Promise<{ firings: Firing[]; more: boolean }> {
  let query = db
    .selectFrom('order_firings as f')
    .innerJoin('standing_orders as o', 'o.id', 'f.order_id')
    .innerJoin('order_events as e', 'e.id', 'f.event_id')
    .select([
      'f.id',
      'f.order_id',
      'o.name',
      'f.version',
      'f.state',
      'f.why',
      'f.part',
      'f.record_id',
      'f.ended_at',
      'e.kind',
      'e.change',
      'e.title',
      'e.list_id',
      'e.before',
      'e.given',
      'e.actor',
      'e.at',
    ])
    .orderBy('f.id', 'desc')
    .limit(shown + 1);
  query =
    order === undefined && state !== 'asking'
      ? query.where('f.created_at', '>', sql<Date>`now() - interval '1 day'`)
      : query.$if(order !== undefined, (q) => q.where('f.order_id', '=', order!));
  if (state) query = query.where('f.state', '=', state);
  if (before) query = query.where('f.id', '<', before);
  const rows = await query.execute();
  const page = rows.slice(0, shown);
  const steps = await db
    .selectFrom('firing_steps')
    .selectAll()
    .where('firing_id', 'in', [...page.map((r) => r.id), -1])
    .orderBy('seq')
    .execute();
  const runs = await db
    .selectFrom('runs')
    .select(['id', 'job_id'])
    .where('id', 'in', [...steps.flatMap((s) => s.made?.run ?? []), -1])
    .execute();
  const titles = await titlesOf(db, page);
  return {
    more: rows.length > shown,
    firings: page.map((row) => ({
      id: row.id,
      order: row.order_id,
      name: row.name,
      version: row.version,
      state: row.state,
      why: row.why,
      title:
        happened(row, titles.get(row.id) || row.title) + (row.part === '' ? '' : ', one row of it'),
      actor: row.actor,
      record: row.record_id,
      at: row.at.toISOString(),
      ended: row.ended_at?.toISOString() ?? null,
      steps: steps
        .filter((s) => s.firing_id === row.id)
        .map((s) => ({
          seq: s.seq,
          kind: s.kind,
          state: s.state,
          words: s.words,
          ms: s.ms,
          tries: s.tries,
          at: s.at.toISOString(),
          run: s.made?.run ?? null,
          job: runs.find((r) => r.id === s.made?.run)?.job_id ?? null,
          address: s.made?.address ?? null,
        })),
    })),
  };
}

/** What happened, in words, by its title. */
export function happened(
  {
    kind,
    change,
    given,
  }: { kind: string; change: string | null; given: Readonly<Record<string, string>> | null },
  title: string,
): string {
  const name = title || 'A record';
  switch (kind) {
    case 'record':
      return `${name} ${change === 'came' ? 'arrived' : change === 'went' ? 'went' : 'changed'}`;
    case 'document':
      return `${given?.['path'] ?? name} ${change === 'changed' ? 'was saved again' : 'arrived'}`;
    case 'call':
      return title === '' ? 'A program called' : `A program called: ${title}`;
    case 'scan':
      return change === 'link'
        ? `The link of ${name} was opened`
        : `${name} was scanned at ${given?.['where'] ?? 'a checkpoint'}`;
    case 'schedule':
      return 'Its time came';
    default:
      return `Started by hand for ${name}`;
  }
}

/** The titles of the records of firings: as they are now, or as they were. */
export async function titlesOf(
  db: Database,
  rows: readonly {
    id: number;
    list_id: number | null;
    record_id: number | null;
    before?: Readonly<Record<string, string>> | null;
  }[],
): Promise<Map<number, string>> {
  const lists = await db
    .selectFrom('lists')
    .select(['id', 'columns'])
    .where('id', 'in', [...new Set(rows.flatMap((r) => r.list_id ?? [])), -1])
    .execute();
  const records = await db
    .selectFrom('records')
    .select(['id', 'list_id', 'values'])
    .where('id', 'in', [...new Set(rows.flatMap((r) => r.record_id ?? [])), -1])
    .execute();
  return new Map(
    rows.map((row) => {
      const record = records.find((r) => r.id === row.record_id);
      const columns = lists.find((l) => l.id === (row.list_id ?? record?.list_id))?.columns ?? [];
      const values = record?.values ?? row.before ?? {};
      return [row.id, titleOf(columns, values)];
    }),
  );
}

/** Starts a firing again. @throws Refusal if it has not failed, or its order was deleted */
export async function fireAgain(db: Database, id: number, from: 'step' | 'start'): Promise<void> {
  const again = await putAgain(db, from, (q) => q.where('id', '=', id));
  if (again === 0)
    throw new Refusal(
      'This did not fail, or is already in progress, so there is nothing to retry. Reload the page.',
      409,
    );
}

/** Retries everything of an order that failed. @returns the number */
export const fireFailedAgain = (
  db: Database,
  order: number,
  from: 'step' | 'start',
): Promise<number> => putAgain(db, from, (q) => q.where('order_id', '=', order));

async function putAgain(
  db: Database,
  from: 'step' | 'start',
  which: (q: ReturnType<typeof failed>) => ReturnType<typeof failed>,
): Promise<number> {
  return db.transaction().execute(async (tx) => {
    const rows = await which(failed(tx)).forUpdate().execute();
    const ids = rows.map((row) => row.id);
    if (ids.length === 0) return 0;
    await tx
      .updateTable('order_firings')
      .set({
        state: 'waiting',
        why: null,
        tries: 0,
        ended_at: null,
        due_at: sql<Date>`clock_timestamp()`,
        // a row of another list begins where its part begins
        ...(from === 'start'
          ? {
              seq: sql<number>`case when parent_id is null then 0 else seq end`,
              conditions: sql<string>`case when parent_id is null then null else conditions end`,
            }
          : {}),
      })
      .where('id', 'in', ids)
      .execute();
    if (from === 'start')
      await tx.deleteFrom('firing_steps').where('firing_id', 'in', ids).execute();
    await wakeWorkers(tx);
    return ids.length;
  });
}
const failed = (db: Database) =>
  db.selectFrom('order_firings').select('id').where('state', '=', 'failed');

/** Approves or rejects what waits to be sent. */
export async function answerFiring(
  db: Database,
  id: number,
  yes: boolean,
  actor: string,
): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { numUpdatedRows } = await tx
      .updateTable('order_firings')
      .set(
        yes
          ? { state: 'waiting', approved_by: actor, due_at: sql<Date>`clock_timestamp()` }
          : { state: 'declined', why: `${actor} did not approve it`, ended_at: clock.date() },
      )
      .where('id', '=', id)
      .where('state', '=', 'asking')
      .executeTakeFirst();
    if (numUpdatedRows === 0n)
      throw new Refusal(
        'This no longer waits for approval. Reload the page to see what became of it.',
        409,
      );
    if (yes) await enqueue(tx, fireOrdersCard, { lane: 0 }, { key: 'orders-fire-0' });
  });
}
