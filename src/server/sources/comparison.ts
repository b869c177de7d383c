import { sql } from 'kysely';
import { keyColumn, suggestRoles, type Column, type Values } from '../../core/records/columns';
import { differences, matchColumns, type Difference } from '../../core/records/differences';
import type { ChangedRow, RereadTake, RereadTold } from '../../core/job/views';
import type { Database } from '../db';
import { judgeChanged } from '../edits';
import { IntakeError, type Book } from '../intake/book';
import { headingsAndRows } from '../intake/preview';
import { rejudgeList, sharersOf } from '../judge';
import { insertRecords, newColumns } from '../lists';
import { Refusal } from '../refusal';
import { changedRow, revise, takeOut, type Step } from '../revisions';
import { workOutAll, writeRecords, type RecordToWrite } from '../working';

interface Compared {
  told: RereadTold;
  list: Difference[];
  /** Columns of the list with the new ones of the source behind them. */
  columns: Column[];
  added: Column[];
}

/** Compares what was read with what the list holds. */
async function compare(db: Database, listId: number, book: Book): Promise<Compared> {
  const list = await db.selectFrom('lists').select(['columns', 'origin', 'next_column']).where('id', '=', listId).executeTakeFirstOrThrow();
  const { origin } = list;
  const named = origin && 'sheet' in origin ? book.sheets.findIndex((s) => s.name === origin.sheet) : 0;
  const sheet = book.sheets[Math.max(0, named)];
  const headerRow = origin && 'headerRow' in origin ? origin.headerRow : 0;
  const { names, rows } = headingsAndRows(sheet, headerRow);
  const { ids, missing } = matchColumns(list.columns, names);
  const key = keyColumn(list.columns);
  if (key && !key.worked && missing.includes(key.id))
    throw new IntakeError(
      `The column ${key.source ?? key.name}, which tells the records apart, is not in what was read. Look whether it was renamed, and read again.`,
    );
  if (ids.every((id) => id === undefined))
    throw new IntakeError('None of the headings is one of this list. Is it the right file and the right sheet?');
  const fresh = names.flatMap((name, c) => (ids[c] === undefined && rows.some((row) => (row[c] ?? '').trim() !== '') ? [{ name, c }] : []));
  const roles = suggestRoles(fresh.map((f) => f.name), fresh.length ? rows.slice(0, 300).map((row) => fresh.map((f) => row[f.c] ?? '')) : []); // prettier-ignore
  const added = newColumns(fresh.map((f) => f.name), roles.map((role) => (role === 'key' || role === 'name' ? 'text' : role)), list.next_column); // prettier-ignore
  const places = [...ids.flatMap((id, c) => (id ? [[id, c] as const] : [])), ...fresh.map((f, i) => [added[i].id, f.c] as const)];
  const incoming = rows.map((row): Values => Object.fromEntries(places.map(([id, c]) => [id, row[c] ?? ''])));
  const kept = await db.selectFrom('records').select(['id', 'values', 'hand']).where('list_id', '=', listId).orderBy('position').execute();
  const own = key && !key.worked ? key.id : undefined;
  const found = differences(kept, incoming, places.map(([id]) => id), own); // prettier-ignore
  const count = (change: Difference['change']) => found.list.filter((d) => d.change === change).length;
  return {
    list: found.list,
    columns: [...list.columns, ...added],
    added,
    told: {
      added: count('added'),
      changed: count('changed'),
      gone: count('gone'),
      unchanged: found.unchanged,
      clashes: found.list.reduce((sum, d) => sum + (d.change === 'changed' ? d.clashes.length : 0), 0),
      notes: [...sheet.notes, ...found.notes],
      newColumns: added.map((c) => c.name),
      missingColumns: list.columns.filter((c) => missing.includes(c.id)).map((c) => c.name),
    },
  };
}

const nothing = ({ added, changed, gone, newColumns }: RereadTold): boolean => added + changed + gone + newColumns.length === 0;

/** Keeps what a re-read comes to, row by row, to be looked at; takes it at once where the list follows its source and nothing is lost. */
export async function compareIntake(db: Database, id: number, book: Book): Promise<void> {
  const intake = await db.selectFrom('intakes').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
  const listId = intake.list_id!;
  const { told, list } = await compare(db, listId, book);
  if (nothing(told)) {
    await db
      .updateTable('intakes')
      .set({ state: 'taken', told: JSON.stringify(told), bytes: Buffer.alloc(0) })
      .where('id', '=', id)
      .execute();
    await db.updateTable('lists').set({ updated_at: new Date() }).where('id', '=', listId).execute();
    return;
  }
  await db.transaction().execute(async (tx) => {
    await tx.deleteFrom('intake_rows').where('intake_id', '=', id).execute();
    const batch = 5000;
    const json = (value: unknown) => (value === undefined ? null : JSON.stringify(value));
    for (let from = 0; from < list.length; from += batch) {
      const part = list.slice(from, from + batch);
      await sql`
        insert into intake_rows (intake_id, seq, change, record_id, before, after, clashes)
        select ${id}::int, * from unnest(${part.map((_, i) => from + i)}::int[], ${part.map((d) => d.change)}::text[],
          ${part.map((d) => (d.change === 'added' ? null : d.record))}::bigint[], ${part.map((d) => (d.change === 'added' ? null : json(d.before)))}::json[],
          ${part.map((d) => (d.change === 'gone' ? null : json(d.after)))}::json[], ${part.map((d) => (d.change === 'changed' && d.clashes.length ? json(d.clashes) : null))}::json[])`.execute(
        tx,
      );
    }
    await tx
      .updateTable('intakes')
      .set({ state: 'read', told: JSON.stringify(told) })
      .where('id', '=', id)
      .execute();
  });
  const { origin } = await db.selectFrom('lists').select('origin').where('id', '=', listId).executeTakeFirstOrThrow();
  const harmless = told.gone === 0 && told.clashes === 0 && told.missingColumns.length === 0;
  if (origin?.kind === 'tray' && origin.takes && harmless && intake.created_by === 'the In-tray')
    await takeReread(db, id, book, 'the In-tray', 'asked');
}

/** What a re-read would do, record by record and cell by cell. */
export async function rereadRows(db: Database, id: number, from: number, change: ChangedRow['change'] | undefined): Promise<ChangedRow[]> {
  const intake = await db.selectFrom('intakes').select(['list_id', 'told']).where('id', '=', id).executeTakeFirstOrThrow();
  if (intake.list_id === null) return [];
  const list = await db.selectFrom('lists').select(['columns', 'next_column']).where('id', '=', intake.list_id).executeTakeFirstOrThrow();
  const columns = [...list.columns, ...newColumns(intake.told?.newColumns ?? [], [], list.next_column)];
  let query = db
    .selectFrom('intake_rows')
    .leftJoin('records', 'records.id', 'intake_rows.record_id')
    .select(['seq', 'change', 'before', 'after', 'clashes', 'records.values as now'])
    .where('intake_id', '=', id)
    .where('seq', '>=', from)
    .orderBy('seq')
    .limit(100);
  if (change) query = query.where('change', '=', change);
  return (await query.execute()).map((row) => {
    const told = changedRow(columns, { ...row, now: row.now ?? null });
    const clashes = (row.clashes ?? []).map((clash) => ({
      column: columns.find((c) => c.id === clash.column)?.name ?? '',
      before: clash.here,
      after: clash.there,
      clash: true,
    }));
    return { ...told, cells: [...told.cells, ...clashes] };
  });
}

/** Takes a re-read into its list in one revision that can be undone. Printed state and hand edits survive. */
export async function takeReread(db: Database, id: number, book: Book, actor: string, state: 'asked' | 'taking' = 'taking'): Promise<void> {
  const intake = await db.selectFrom('intakes').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
  const listId = intake.list_id!;
  const wanted: RereadTake = (intake.take as RereadTake | null) ?? { clashes: 'here', gone: 'out' };
  const touched = await db.transaction().execute(async (tx) => {
    const before = await tx.selectFrom('lists').select('columns').where('id', '=', listId).forUpdate().executeTakeFirstOrThrow();
    const { told, list, columns, added } = await compare(tx, listId, book);
    const shown = intake.told;
    if (state === 'taking' && shown && (told.added !== shown.added || told.changed !== shown.changed || told.gone !== shown.gone))
      throw new Refusal('The list was changed while you looked at this. Read it again to see what it comes to now.');
    if (added.length > 0)
      await tx
        .updateTable('lists')
        .set((e) => ({ columns: JSON.stringify(columns), next_column: e('next_column', '+', added.length) }))
        .where('id', '=', listId)
        .execute();
    const steps: Step[] = [];
    await change(tx, listId, columns, list, wanted, steps);
    const others = await remove(tx, listId, list, wanted, steps);
    await add(tx, listId, columns, list, steps);
    const words = [`${told.added} added`, `${told.changed} changed`, `${wanted.gone === 'out' ? told.gone : 0} gone`].join(', ');
    await revise(tx, listId, 'reread', `Read again from ${intake.file_name}: ${words}`, actor, steps, added.length > 0 ? { before: before.columns, after: columns } : undefined); // prettier-ignore
    await tx
      .updateTable('intakes')
      .set({ state: 'taken', bytes: Buffer.alloc(0) })
      .where('id', '=', id)
      .execute();
    await tx.deleteFrom('intake_rows').where('intake_id', '=', id).execute();
    return { ids: [...steps.filter((s) => s.change !== 'gone').map((s) => s.record), ...others], columns: added.length > 0 };
  });
  if (touched.columns) await workOutAll(db, listId);
  else if (touched.ids.length > 0) await judgeChanged(db, listId, touched.ids);
  else await rejudgeList(db, listId);
}

async function change(
  tx: Database,
  listId: number,
  columns: readonly Column[],
  list: readonly Difference[],
  wanted: RereadTake,
  steps: Step[],
): Promise<void> {
  const changed = new Map(list.flatMap((d) => (d.change === 'changed' ? [[d.record, d] as const] : [])));
  const ids = [...changed.keys()];
  const batch = 2000;
  for (let from = 0; from < ids.length; from += batch) {
    const rows = await tx.selectFrom('records').select(['id', 'position', 'values', 'hand']).where(sql<boolean>`id = any(${ids.slice(from, from + batch)}::bigint[])`).execute(); // prettier-ignore
    const writing = rows.map((row): RecordToWrite => {
      const { before, after, clashes } = changed.get(row.id)!;
      if (wanted.clashes === 'there') {
        const theirs = { ...after, ...Object.fromEntries(clashes.map((c) => [c.column, c.there])) };
        steps.push({ record: row.id, change: 'changed', before: { ...before, ...Object.fromEntries(clashes.map((c) => [c.column, c.here])) }, after: theirs }); // prettier-ignore
        return { ...row, next: theirs };
      }
      if (Object.keys(after).length > 0) steps.push({ record: row.id, change: 'changed', before, after });
      // what stands here stays, and the source's new word is remembered, so that it is not asked about again
      return { ...row, hand: { ...row.hand, ...Object.fromEntries(clashes.map((c) => [c.column, c.there])) }, next: after };
    });
    await writeRecords(tx, listId, columns, writing, false);
  }
}

async function remove(tx: Database, listId: number, list: readonly Difference[], wanted: RereadTake, steps: Step[]): Promise<number[]> {
  const gone = list.flatMap((d) => (d.change === 'gone' ? [d.record] : []));
  if (wanted.gone === 'stay' || gone.length === 0) return [];
  const others = await sharersOf(tx, listId, gone);
  for (const [record, { values, position, kept }] of await takeOut(tx, listId, gone))
    steps.push({ record, change: 'gone', before: values, position, kept });
  return others;
}

async function add(tx: Database, listId: number, columns: readonly Column[], list: readonly Difference[], steps: Step[]): Promise<void> {
  const added = list.flatMap((d) => (d.change === 'added' ? [d.after] : []));
  if (added.length === 0) return;
  const { last } = await tx.selectFrom('records').select(sql<number | null>`max(position)`.as('last')).where('list_id', '=', listId).executeTakeFirstOrThrow(); // prettier-ignore
  const first = (last ?? -1) + 1;
  const ids = await insertRecords(tx, listId, added, first);
  await writeRecords(tx, listId, columns, ids.map((id, i) => ({ id, position: first + i, values: added[i], hand: null, next: {} })), false); // prettier-ignore
  ids.forEach((record, i) => steps.push({ record, change: 'added', after: added[i], position: first + i }));
}
