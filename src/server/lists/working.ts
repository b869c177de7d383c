import { workOutCard } from './cards';
import { sql } from 'kysely';
import type { Column, Values } from '../../core/records/columns';
import { lookupsOf, withWorked, type WorkedContext } from '../../core/records/worked';
import { type Database, enqueue, randomText } from '../platform';
import { changedElsewhere, judgePieceNow, rejudgeList } from '../judging';

const atOnce = 3000;
const batch = 2000;

type Context = Omit<WorkedContext, 'position'>;

/** What working out the columns of a list needs: values of other lists to look up, and secrets that no other record has. */
export async function workingContext(
  db: Database,
  listId: number,
  columns: readonly Column[],
): Promise<Context> {
  const tables = new Map<string, Map<string, string>>();
  for (const step of columns.flatMap((c) => (c.worked ? lookupsOf(c.worked) : []))) {
    const name = JSON.stringify([step.list, step.by, step.give]);
    if (tables.has(name)) continue;
    const rows = await db
      .selectFrom('records')
      .select([
        sql<string>`coalesce(trim(values->>${step.by}), '')`.as('by'),
        sql<string>`coalesce(values->>${step.give}, '')`.as('give'),
      ])
      .where('list_id', '=', step.list)
      .orderBy('position', 'desc')
      .execute();
    // the first record of that list wins, so it is put in last
    tables.set(name, new Map(rows.map((r) => [r.by, r.give])));
  }
  const secrets = columns.filter((c) => c.worked?.source.kind === 'secret');
  const taken = new Set<string>();
  for (const column of secrets) {
    const rows = await db
      .selectFrom('records')
      .select(sql<string>`values->>${column.id}`.as('value'))
      .where('list_id', '=', listId)
      .where(sql<boolean>`coalesce(values->>${column.id}, '') <> ''`)
      .execute();
    for (const row of rows) taken.add(row.value);
  }
  return {
    lookup: (list, by, value, give) =>
      tables.get(JSON.stringify([list, by, give]))?.get(value) ?? '',
    secret(length) {
      let text = randomText(length);
      while (taken.has(text)) text = randomText(length);
      taken.add(text);
      return text;
    },
  };
}

export interface RecordToWrite {
  id: number;
  position: number;
  values: Values;
  hand: Values | null;
  /** The cells to change. */
  next: Values;
}

/**
 * Writes changed cells, and with them whatever is worked out from them.
 * @param byHand the change was made here and not in the source: what the source says is remembered
 */
export async function writeRecords(
  db: Database,
  listId: number,
  columns: readonly Column[],
  records: readonly RecordToWrite[],
  byHand: boolean,
): Promise<void> {
  if (records.length === 0) return;
  const context = columns.some((c) => c.worked)
    ? await workingContext(db, listId, columns)
    : undefined;
  const values = records.map(({ values: now, next, position }) => {
    const whole = { ...now, ...next };
    return JSON.stringify(context ? withWorked(columns, whole, { ...context, position }) : whole);
  });
  const hands = records.map(({ values: now, hand, next }) => {
    const kept: Record<string, string> = { ...hand };
    for (const [column, value] of Object.entries(next)) {
      if (!byHand) delete kept[column];
      else if (!(column in kept)) kept[column] = now[column] ?? '';
      if (kept[column] === value) delete kept[column];
    }
    return Object.keys(kept).length > 0 ? JSON.stringify(kept) : null;
  });
  await sql`update records r set values = n.values, hand = n.hand from unnest(${records.map((r) => r.id)}::bigint[], ${values}::json[], ${hands}::json[]) as n(id, values, hand) where r.id = n.id`.execute(
    db,
  );
}

/** Works all worked columns of a list out anew and judges it: at once when it is short, in the background when it is long. */
export async function workOutAll(db: Database, listId: number): Promise<void> {
  const { count } = await db
    .selectFrom('records')
    .select((e) => e.fn.countAll<number>().as('count'))
    .where('list_id', '=', listId)
    .executeTakeFirstOrThrow();
  if (count <= atOnce) return workOutNow(db, listId);
  await db.updateTable('lists').set({ working: count }).where('id', '=', listId).execute();
  await enqueue(
    db,
    workOutCard,
    { list: listId },
    { key: `work-${listId}`, queue: `list-${listId}` },
  );
}

/** The worker's part of `workOutAll`. */
export async function workOutNow(db: Database, listId: number): Promise<void> {
  const list = await db
    .selectFrom('lists')
    .select(['columns', 'changes'])
    .where('id', '=', listId)
    .executeTakeFirst();
  if (!list) return;
  if (list.columns.some((c) => c.worked)) {
    const context = await workingContext(db, listId, list.columns);
    let other = false;
    for (let after = -1; ;) {
      const done = await db.transaction().execute(async (tx) => {
        const records = await tx
          .selectFrom('records')
          .select(['id', 'position', 'values'])
          .where('list_id', '=', listId)
          .where('position', '>', after)
          .orderBy('position')
          .limit(batch)
          .forUpdate()
          .execute();
        const worked = records.map((r) =>
          JSON.stringify(withWorked(list.columns, r.values, { ...context, position: r.position })),
        );
        other ||= records.some((r, i) => worked[i] !== JSON.stringify(r.values));
        if (records.length > 0)
          await sql`update records r set values = n.values from unnest(${records.map((r) => r.id)}::bigint[], ${worked}::json[]) as n(id, values) where r.id = n.id`.execute(
            tx,
          );
        return records;
      });
      if (done.length < batch) break;
      after = done.at(-1)!.position;
      await db
        .updateTable('lists')
        .set((e) => ({ working: sql<number>`greatest(1, ${e.ref('working')} - ${batch})` }))
        .where('id', '=', listId)
        .execute();
    }
    // what others look up here has changed with it; where nothing has, a ring of look-ups comes to rest
    if (other) await changedElsewhere(db, listId);
  }
  // what was changed meanwhile has a renewal of its own on its way
  await db
    .updateTable('lists')
    .set({ working: 0 })
    .where('id', '=', listId)
    .where('changes', '=', list.changes)
    .execute();
  await rejudgeList(db, listId);
}

/** Works out and judges a list again whose verdicts are not from what it is now: a process died between a change and what follows. */
export async function renewList(db: Database, listId: number): Promise<void> {
  const list = await db
    .selectFrom('lists')
    .select(['changes', 'judged', 'columns'])
    .where('id', '=', listId)
    .executeTakeFirst();
  if (!list || list.judged >= list.changes) return;
  await workOutNow(db, listId);
}

/** The same for a job's own verdicts. */
export async function renewJob(db: Database, jobId: number): Promise<void> {
  const job = await db
    .selectFrom('jobs')
    .select(['changes', 'judged'])
    .where('id', '=', jobId)
    .executeTakeFirst();
  if (job && job.judged < job.changes) await judgePieceNow(db, jobId);
}
