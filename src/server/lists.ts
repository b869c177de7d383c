import { sql } from 'kysely';
import { firstPiece } from '../core/piece/piece';
import { firstStamp } from '../core/payload/stamp';
import { stocks } from '../core/piece/stock';
import { keyColumn, type Column, type ColumnRole, type Values } from '../core/records/columns';
import { defaultRunOptions } from '../core/run/plan';
import type { Database } from './db';
import type { CellEdit } from './db/schema';
import type { JobDocument } from '../core/job/document';
import { withWorked } from '../core/records/worked';
import { Refusal } from './refusal';
import { judgeRecords } from './judge';
import { randomText } from './secret';

export interface NewList {
  name: string;
  source: string;
  headings: readonly string[];
  roles: readonly ColumnRole[];
  rows: readonly (readonly string[])[];
  note: string;
  actor: string;
}

/** Keeps a list with its first revision. Values go in exactly as given. */
export async function createList(db: Database, list: NewList): Promise<{ id: number; columns: Column[] }> {
  const columns: Column[] = list.headings.map((name, i) => ({ id: `c${i + 1}`, name, role: list.roles[i] ?? 'text' }));
  const { id } = await db
    .insertInto('lists')
    .values({ name: list.name, columns: JSON.stringify(columns), source: list.source, created_by: list.actor })
    .returning('id')
    .executeTakeFirstOrThrow();
  const batch = 5000;
  for (let from = 0; from < list.rows.length; from += batch) {
    const part = list.rows.slice(from, from + batch);
    const values = part.map((row) => JSON.stringify(Object.fromEntries(columns.map((column, c) => [column.id, row[c] ?? '']))));
    await sql`insert into records (list_id, position, values) select ${id}::int, * from unnest(${part.map((_, i) => from + i)}::int[], ${values}::json[])`.execute(
      db,
    );
  }
  await db.insertInto('revisions').values({ list_id: id, number: 1, kind: 'intake', note: list.note, created_by: list.actor }).execute();
  return { id, columns };
}

export async function createJob(
  db: Database,
  name: string,
  listId: number,
  columns: readonly Column[],
  actor: string,
  document?: JobDocument,
): Promise<number> {
  const stamp = firstStamp(columns);
  const whole = document ?? { stamps: [stamp], piece: firstPiece(stocks[0], stamp, columns), options: defaultRunOptions };
  const text = JSON.stringify(whole);
  const { id } = await db
    .insertInto('jobs')
    .values({ name, list_id: listId, document: text, created_by: actor })
    .returning('id')
    .executeTakeFirstOrThrow();
  await db.insertInto('job_versions').values({ job_id: id, version: 1, document: text, created_by: actor }).execute();
  return id;
}

/** Changes cells and keeps how to undo it. Throws away what had been undone, as typing after an undo does. */
export async function editCells(
  db: Database,
  listId: number,
  edits: readonly { record: number; column: string; value: string }[],
  actor: string,
): Promise<void> {
  const { columns } = await db.selectFrom('lists').select('columns').where('id', '=', listId).executeTakeFirstOrThrow();
  const worked = columns.find((c) => c.worked && edits.some((e) => e.column === c.id));
  if (worked)
    throw new Refusal(`${worked.name} is worked out from other columns and cannot be typed over. Change its sentence, or those columns.`);
  const done = await db.transaction().execute(async (tx) => {
    await tx.deleteFrom('changes').where('list_id', '=', listId).where('undone', '=', true).execute();
    const applied: CellEdit[] = [];
    for (const edit of edits) {
      const record = await tx
        .selectFrom('records')
        .select(['values', 'position'])
        .where('id', '=', edit.record)
        .where('list_id', '=', listId)
        .forUpdate()
        .executeTakeFirst();
      if (!record) continue;
      const before = record.values[edit.column] ?? '';
      if (before === edit.value) continue;
      await writeCell(tx, columns, edit.record, edit.column, edit.value, record);
      applied.push({ record: edit.record, column: edit.column, before, after: edit.value });
    }
    if (applied.length === 0) return applied;
    await tx
      .insertInto('changes')
      .values({ list_id: listId, edits: JSON.stringify(applied), created_by: actor })
      .execute();
    await nextRevision(tx, listId, 'edit', describe(applied), actor);
    return applied;
  });
  await judgeEdits(db, listId, done);
}

/** Takes the last change back, or puts it in again. Returns what it did in words; undefined when there is nothing. */
export async function stepBack(db: Database, listId: number, direction: 'undo' | 'redo', actor: string): Promise<string | undefined> {
  const edits = await db.transaction().execute(async (tx) => {
    const change = await tx
      .selectFrom('changes')
      .selectAll()
      .where('list_id', '=', listId)
      .where('undone', '=', direction === 'redo')
      .orderBy('id', direction === 'undo' ? 'desc' : 'asc')
      .limit(1)
      .forUpdate()
      .executeTakeFirst();
    if (!change) return undefined;
    const { columns } = await tx.selectFrom('lists').select('columns').where('id', '=', listId).executeTakeFirstOrThrow();
    for (const edit of change.edits) {
      const record = await tx
        .selectFrom('records')
        .select(['values', 'position'])
        .where('id', '=', edit.record)
        .forUpdate()
        .executeTakeFirst();
      if (record) await writeCell(tx, columns, edit.record, edit.column, direction === 'undo' ? edit.before : edit.after, record);
    }
    await tx
      .updateTable('changes')
      .set({ undone: direction === 'undo' })
      .where('id', '=', change.id)
      .execute();
    await nextRevision(tx, listId, direction, describe(change.edits), actor);
    return change.edits;
  });
  if (!edits) return undefined;
  await judgeEdits(db, listId, edits);
  return describe(edits);
}

const describe = (edits: readonly CellEdit[]): string => (edits.length === 1 ? `1 cell changed` : `${edits.length} cells changed`);

/** Writes one cell, and with it whatever is worked out from it. */
async function writeCell(
  db: Database,
  columns: readonly Column[],
  id: number,
  column: string,
  value: string,
  record: { values: Values; position: number },
): Promise<void> {
  const values = withWorked(columns, { ...record.values, [column]: value }, { position: record.position, secret: randomText });
  await db
    .updateTable('records')
    .set({ values: JSON.stringify(values) })
    .where('id', '=', id)
    .execute();
}

export async function nextRevision(
  db: Database,
  listId: number,
  kind: 'edit' | 'undo' | 'redo',
  note: string,
  actor: string,
): Promise<void> {
  const { revision } = await db
    .updateTable('lists')
    .set((e) => ({ revision: e('revision', '+', 1), updated_at: new Date() }))
    .where('id', '=', listId)
    .returning('revision')
    .executeTakeFirstOrThrow();
  await db.insertInto('revisions').values({ list_id: listId, number: revision, kind, note, created_by: actor }).execute();
}

async function judgeEdits(db: Database, listId: number, edits: readonly CellEdit[]): Promise<void> {
  if (edits.length === 0) return;
  const { columns } = await db.selectFrom('lists').select('columns').where('id', '=', listId).executeTakeFirstOrThrow();
  const key = keyColumn(columns);
  const keys = edits
    .filter((e) => e.column === key?.id)
    .flatMap((e) => [e.before.trim(), e.after.trim()])
    .filter(Boolean);
  await judgeRecords(
    db,
    listId,
    edits.map((e) => e.record),
    keys,
  );
}
