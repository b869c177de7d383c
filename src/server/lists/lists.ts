import { setImmediate } from 'node:timers/promises';
import type { renameSchema } from '../../contract';
import { sql } from 'kysely';
import type { z } from 'zod';
import { firstPiece } from '../../core/piece/starters';
import { withoutSecretText } from '../../core/payload/secrets';
import { firstStamp } from '../../core/payload/stamp';
import { stocks } from '../../core/piece/stock';
import {
  secretHeadings,
  type Column,
  type ColumnRole,
  type Values,
} from '../../core/records/columns';
import type { Doubt, Doubts } from '../../core/records/reading';
import { defaultRunOptions } from '../../core/run/plan';
import { type JobDocument, writeJob, writeVersion } from '../../core/job/document';
import type { Origin } from '../../core/job/sources';
import { changed, changedJob } from '../judging';
import { freeName } from '../../core/run/names';
import type { Database } from '../platform';

export interface NewList {
  name: string;
  source: string;
  origin?: Origin;
  headings: readonly string[];
  roles: readonly ColumnRole[];
  rows: readonly (readonly string[])[];
  /** The doubts about the cells of each row, by position in the row. */
  doubts?: readonly (Readonly<Record<number, Doubt>> | undefined)[];
  note: string;
  actor: string;
}

export function newColumns(
  headings: readonly string[],
  roles: readonly ColumnRole[],
  from = 1,
): Column[] {
  return headings.map((name, i) => ({
    id: `c${from + i}`,
    name,
    role: roles[i] ?? 'text',
    ...(secretHeadings.test(name) ? { secret: true } : {}),
  }));
}

/** Keeps a list with its first revision. Values go in exactly as given. */
export async function createList(
  db: Database,
  list: NewList,
): Promise<{ id: number; columns: Column[] }> {
  const columns = newColumns(list.headings, list.roles);
  const names = await db.selectFrom('lists').select('name').execute();
  const { id } = await db
    .insertInto('lists')
    .values({
      name: freeName(
        list.name,
        names.map((n) => n.name),
      ),
      columns: JSON.stringify(columns),
      source: list.source,
      origin: list.origin ? JSON.stringify(list.origin) : null,
      next_column: columns.length + 1,
      created_by: list.actor,
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  const ids = columns.map((column) => column.id);
  // as JSON from the start and batch by batch: a long and wide list as objects is many times its
  // file
  const keys = ids.map((column) => `${JSON.stringify(column)}:`);
  await insertBatches(db, id, list.rows.length, 0, (r) => {
    const row = list.rows[r]!;
    const cells = keys.map((key, c) => key + JSON.stringify(row[c] ?? ''));
    return { values: `{${cells.join(',')}}`, doubts: doubtsOf(list.doubts?.[r], ids, row) };
  });
  await db
    .insertInto('revisions')
    .values({
      list_id: id,
      number: 1,
      kind: 'intake',
      note: list.note,
      counts: JSON.stringify({ added: list.rows.length, changed: 0, gone: 0 }),
      created_by: list.actor,
    })
    .execute();
  await changed(db, id);
  return { id, columns };
}

/** Doubts by place in the row as doubts by column. */
export function doubtsOf(
  found: Readonly<Record<number, Doubt>> | undefined,
  ids: readonly (string | undefined)[],
  row: readonly string[],
): Doubts | undefined {
  if (!found) return undefined;
  const entries = Object.entries(found).flatMap(([at, kind]) => {
    const id = ids[Number(at)];
    return id === undefined ? [] : [[id, { kind, of: row[Number(at)] ?? '' }] as const];
  });
  return entries.length > 0 ? Object.fromEntries(entries) : undefined;
}

/**
 * Adds records to a list from a position on, with the doubts about their cells. Returns their
 * numbers, in order.
 */
export async function insertRecords(
  db: Database,
  listId: number,
  records: readonly Values[],
  position: number,
  doubts: readonly (Doubts | undefined)[] = [],
): Promise<number[]> {
  return insertBatches(db, listId, records.length, position, (r) => ({
    values: JSON.stringify(records[r]),
    doubts: doubts[r],
  }));
}

/** Separates the texts of a batch; it never occurs in JSON. */
const separator = '\x1e';

const mostOfBatch = 2000;
/** Characters from which on a batch ends: larger texts are cleared away late, and add up. */
const textOfBatch = 400_000;

/** The database's statistics of its table are out of date from here on. */
const manyRecords = 3000;

/** @param record the values as JSON, and the doubts, of a record by its number */
async function insertBatches(
  db: Database,
  listId: number,
  count: number,
  position: number,
  record: (r: number) => { values: string; doubts: Doubts | undefined },
): Promise<number[]> {
  const ids: number[] = [];
  const put = async (first: number, values: string, doubts: string): Promise<void> => {
    const { rows } = await sql<{ id: number; position: number }>`
      insert into records (list_id, position, values, doubts)
      select ${listId}::int, ${position + first - 1}::int + nth, v::json, nullif(d, '')::json
      from unnest(string_to_array(${values}, ${separator}),
        string_to_array(${doubts}, ${separator})) with ordinality as t(v, d, nth)
      returning id, position`.execute(db);
    ids.push(...rows.sort((a, b) => a.position - b.position).map((r) => r.id));
  };
  let before = Promise.resolve();
  for (let from = 0; from < count;) {
    const part: ReturnType<typeof record>[] = [];
    for (let size = 0; part.length < mostOfBatch && size < textOfBatch && from < count; from++) {
      const one = record(from);
      part.push(one);
      size += one.values.length;
    }
    const first = from - part.length;
    // two texts in place of two arrays, in which every quote would be escaped, read and written
    // again
    const values = part.map((r) => r.values).join(separator);
    const doubts = part.map((r) => (r.doubts ? JSON.stringify(r.doubts) : '')).join(separator);
    await before;
    before = put(first, values, doubts);
    // errors are thrown where it is awaited
    before.catch(() => undefined);
    // the database gets this batch before the next one is made
    await setImmediate();
  }
  await before;
  // otherwise the database plans by an empty table, and sorts the whole list for each batch that is
  // read
  if (count > manyRecords) await sql`analyze (skip_locked) records`.execute(db);
  return ids;
}

/**
 * Creates a job for a list. If the list has no stamps yet, it gets those of the document, or a
 * first one.
 */
export async function createJob(
  db: Database,
  name: string,
  listId: number,
  columns: readonly Column[],
  actor: string,
  document?: JobDocument,
): Promise<number> {
  const list = await db
    .selectFrom('lists')
    .select('stamps')
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  const stamps =
    list.stamps.length > 0
      ? list.stamps
      : (document?.stamps ?? [firstStamp(columns)]).map((s) => withoutSecretText(s, columns));
  if (list.stamps.length === 0)
    await db
      .updateTable('lists')
      .set({ stamps: JSON.stringify(stamps) })
      .where('id', '=', listId)
      .execute();
  const own = {
    piece: document?.piece ?? firstPiece(stocks[0]!, stamps[0]!, columns),
    options: document?.options ?? defaultRunOptions,
    ...(document?.mail ? { mail: document.mail } : {}),
  };
  // two jobs of one file have different names from the start
  const names = await db.selectFrom('jobs').select('name').execute();
  const { id } = await db
    .insertInto('jobs')
    .values({
      name: freeName(
        name,
        names.map((n) => n.name),
      ),
      list_id: listId,
      document: writeJob(own),
      created_by: actor,
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  await db
    .insertInto('job_versions')
    .values({
      job_id: id,
      version: 1,
      document: writeVersion({ stamps, ...own }),
      created_by: actor,
    })
    .execute();
  await changedJob(db, id, listId);
  return id;
}

export async function renameList(
  db: Database,
  id: number,
  { name }: z.infer<typeof renameSchema>,
): Promise<void> {
  await db.updateTable('lists').set({ name }).where('id', '=', id).execute();
}

/** Throws a list away with its records, its jobs and their runs. */
export async function removeList(db: Database, id: number): Promise<void> {
  await db.deleteFrom('lists').where('id', '=', id).execute();
}
