import { workOutCard } from './cards';
import { randomBytes, randomInt } from 'node:crypto';
import { sql } from 'kysely';
import type { Column, Values } from '../../core/records/columns';
import {
  holdsAddresses,
  holdsLinks,
  holdsUnguessable,
  isLink,
  pictureStamp,
} from '../../core/records/beginnings';
import { lookupsOf, withWorked, type WorkedContext } from '../../core/records/worked';
import {
  codeIn,
  linkAddress,
  newLinkCode,
  pageAddress,
  pageIn,
  pictureAddress,
  pictureIn,
} from '../../core/links/code';
import { type Database, enqueue, ourAddresses, randomText } from '../platform';
import { changedElsewhere, judgePieceNow, rejudgeList } from '../judging';
import { keepLookedUpSecrets } from './looked-up';

const atOnce = 3000;
const batch = 2000;

type Context = Omit<WorkedContext, 'position'>;

/**
 * What working out the columns of a list needs: values of other lists to look up, and secrets that
 * no other record has.
 */
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
  const secrets = columns.filter(holdsUnguessable);
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
  const address = await addresses(db, listId, columns);
  return {
    address,
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

/**
 * Link codes that are made in advance, beside one for every record without: for records that are
 * added in the meantime.
 */
const spare = 100;

/** What gives records the addresses of their links and pages, on the bases of now. */
async function addresses(
  db: Database,
  listId: number,
  columns: readonly Column[],
): Promise<Context['address']> {
  if (!columns.some(holdsAddresses)) return () => '';
  const { base, links } = await ourAddresses(db);
  // a code for anyone is short, so one may be taken already; codes for one person never are
  const free: string[] = [];
  for (const column of columns) {
    const source = column.worked?.source;
    if (!isLink(source) || source.for === 'one') continue;
    const { count } = await db
      .selectFrom('records')
      .select((e) => e.fn.countAll<number>().as('count'))
      .where('list_id', '=', listId)
      .where(sql<boolean>`coalesce(values->>${column.id}, '') = ''`)
      .executeTakeFirstOrThrow();
    const wanted = Array.from({ length: count + spare }, () => newLinkCode('anyone', randomBelow));
    const taken = await db
      .selectFrom('links')
      .select('code')
      .where(sql<boolean>`code = any(${wanted}::text[])`)
      .execute();
    const known = new Set(taken.map((row) => row.code));
    free.push(...wanted.filter((code) => !known.has(code)));
  }
  return (kind, before) => {
    if (kind === 'page') return pageAddress(base, pageIn(before) ?? newPageId());
    if (kind === 'picture') return pictureAddress(base, pictureIn(before) ?? newToken());
    const fresh = kind === 'anyone' ? free.pop() : undefined;
    return linkAddress(links, codeIn(before) ?? fresh ?? newLinkCode('one', randomBelow));
  };
}

const randomBelow = (most: number): number => randomInt(most);
const newToken = (): string => randomBytes(18).toString('base64url');
const newPageId = (): string => randomBytes(16).toString('base64url');

/**
 * What records had in their columns of links and pictures before those were blank: a record keeps
 * its link for good.
 */
async function hadBefore(
  db: Database,
  listId: number,
  columns: readonly Column[],
  records: readonly { id: number; values: Values }[],
): Promise<Map<number, Record<string, string>>> {
  const had = new Map<number, Record<string, string>>();
  const of = columns.filter((c) => holdsLinks(c) || pictureStamp(c.worked?.source) !== undefined);
  const without = records.filter((r) => of.some(({ id }) => !r.values[id])).map((r) => r.id);
  if (without.length === 0) return had;
  // a picture address that was given out before there was a column for it
  const pictures = await db
    .selectFrom('code_addresses')
    .select(['token', 'record_id', 'stamp'])
    .where('withdrawn', '=', false)
    .where(sql<boolean>`record_id = any(${without}::bigint[])`)
    .execute();
  for (const { id, worked } of of)
    for (const { token, record_id: record, stamp } of pictures)
      if (pictureStamp(worked?.source) === stamp)
        had.set(record, { ...had.get(record), [id]: `/c/${token}.png` });
  const rows = await db
    .selectFrom('links')
    .innerJoin('link_sets', 'link_sets.id', 'links.set_id')
    .select(['links.code', 'links.record_id', 'link_sets.column_id'])
    .where('links.list_id', '=', listId)
    .where(sql<boolean>`links.record_id = any(${without}::bigint[])`)
    .execute();
  for (const { code, record_id: id, column_id: column } of rows)
    had.set(id!, { ...had.get(id!), [column]: `/${code}` });
  return had;
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
 * Writes changed cells, and everything calculated from them.
 * @param byHand the change was made here and not in the source: the source's value is remembered
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
  const had = await hadBefore(db, listId, columns, records);
  const values = records.map(({ id, values: now, next, position }) => {
    const whole = { ...now, ...next };
    return JSON.stringify(
      context ? withWorked(columns, whole, { ...context, position }, had.get(id)) : whole,
    );
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
  await sql`update records r set values = n.values, hand = n.hand
    from unnest(${records.map((r) => r.id)}::bigint[], ${values}::json[],
    ${hands}::json[]) as n(id, values, hand) where r.id = n.id`.execute(db);
}

/**
 * Calculates all worked columns of a list and checks it: at once if it is short, in the background
 * if it is long.
 */
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
  await keepLookedUpSecrets(db, listId);
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
        const had = await hadBefore(tx, listId, list.columns, records);
        const worked = records.map((r) =>
          JSON.stringify(
            withWorked(list.columns, r.values, { ...context, position: r.position }, had.get(r.id)),
          ),
        );
        other ||= records.some((r, i) => worked[i] !== JSON.stringify(r.values));
        if (records.length > 0)
          await sql`update records r set values = n.values
            from unnest(${records.map((r) => r.id)}::bigint[], ${worked}::json[]) as n(id, values)
            where r.id = n.id`.execute(tx);
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
    // the values that other lists look up here changed too; if nothing changes any more, a circle
    // of look-ups ends
    if (other) await changedElsewhere(db, listId);
  }
  // what was changed in the meantime has its own renewal queued
  await db
    .updateTable('lists')
    .set({ working: 0 })
    .where('id', '=', listId)
    .where('changes', '=', list.changes)
    .execute();
  await rejudgeList(db, listId);
}

/**
 * Calculates and checks a list whose verdicts are out of date, because a process died between a
 * change and what follows.
 */
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
