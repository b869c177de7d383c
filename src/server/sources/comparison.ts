import { sql } from 'kysely';
import { sourceOf } from '../../core/job/sources';
import { dots } from '../../core/records/sealed';
import {
  keyColumn,
  secretsOf,
  suggestRoles,
  type Column,
  type Values,
} from '../../core/records/columns';
import {
  differences,
  matchColumns,
  plainKey,
  reformedKeys,
  type Difference,
} from '../../core/records/differences';
import type { Doubts } from '../../core/records/reading';
import type { ChangedRow, RereadQuestion, RereadTake, RereadTold, SaidSame } from '../../contract';
import { clock, type Database, IntakeError, Refusal } from '../platform';
import {
  changedRow,
  doubtsOf,
  insertRecords,
  judgeChanged,
  newColumns,
  type RecordToWrite,
  revise,
  type Step,
  takeOut,
  workOutAll,
  writeRecords,
} from '../lists';
import type { Book } from './files/book';
import { Limits } from './files/limits';
import { holdIntake } from './files/state';
import { takenSheet } from './files/preview';
import { rejudgeList, sharersOf } from '../judging';

interface Compared {
  told: RereadTold;
  list: Difference[];
  /** Columns of the list under their current headings, then the new ones of the source. */
  columns: Column[];
  added: Column[];
  /** Columns came, or have another heading in the source. */
  columnsChanged: boolean;
  /** Doubts about the rows of the source. */
  doubts: readonly (Doubts | undefined)[];
}

const nothingSame: SaidSame = { headings: {}, keys: false };

/** Compares what was read with the contents of the list. */
async function compare(
  db: Database,
  listId: number,
  book: Book,
  same: SaidSame,
): Promise<Compared> {
  const list = await db
    .selectFrom('lists')
    .select(['columns', 'origin', 'next_column'])
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  const { origin } = list;
  const named =
    origin && 'sheet' in origin ? book.sheets.findIndex((s) => s.name === origin.sheet) : 0;
  const sheet = book.sheets[Math.max(0, named)]!;
  const taken = takenSheet(sheet, origin && 'headerRow' in origin ? origin : { headerRow: 0 });
  const { names, rows } = taken;
  new Limits('The source').records(rows.length);
  const now = list.columns.map((column) => {
    const heading = Object.keys(same.headings).find(
      (h) => same.headings[h] === column.id && names.includes(h),
    );
    return heading === undefined ? column : { ...column, source: heading };
  });
  const { ids, missing } = matchColumns(now, names);
  const kept = await db
    .selectFrom('records')
    .select(['id', 'values', 'hand'])
    .where('list_id', '=', listId)
    .orderBy('position')
    .execute();
  const read = kept.map((record): Values => ({ ...record.values, ...record.hand }));
  const key = keyColumn(now);
  const own = key && !key.worked ? key.id : undefined;
  const asks: RereadQuestion[] = renamed(now, missing, names, ids, rows, read, own);
  const lost = own !== undefined && missing.includes(own);
  const askedKey = asks.find((a) => a.kind === 'heading' && a.column === own);
  if (lost && !askedKey)
    throw new IntakeError(
      `The key column ${key!.source ?? key!.name} is not in the source. Check whether it was renamed there, and update again.`,
    );
  if (ids.every((id) => id === undefined) && asks.length === 0)
    throw new IntakeError(
      'None of the headings is a column of this list. Check that it is the right file and sheet.',
    );
  const fresh = names.flatMap((name, c) =>
    ids[c] === undefined && rows.some((row) => (row[c] ?? '').trim() !== '') ? [{ name, c }] : [],
  );
  const sample = fresh.length
    ? rows.slice(0, 300).map((row) => fresh.map((f) => row[f.c] ?? ''))
    : [];
  const roles = suggestRoles(
    fresh.map((f) => f.name),
    sample,
  ).map((role) => (role === 'key' || role === 'name' ? 'text' : role));
  const added = newColumns(
    fresh.map((f) => f.name),
    roles,
    list.next_column,
  );
  const places = [
    ...ids.flatMap((id, c) => (id ? [[id, c] as const] : [])),
    ...fresh.map((f, i) => [added[i]!.id, f.c] as const),
  ];
  const columns = places.map(([id]) => id);
  const incoming = rows.map((row): Values =>
    Object.fromEntries(places.map(([id, c]) => [id, row[c] ?? ''])),
  );
  const found = differences(
    kept,
    incoming,
    columns,
    lost ? undefined : own,
    same.keys ? plainKey : undefined,
  );
  const count = (change: Difference['change']) =>
    found.list.filter((d) => d.change === change).length;
  if (own !== undefined && !lost && !same.keys && count('gone') > 0 && count('added') > 0) {
    const keysOf = (records: readonly Values[]) => records.map((values) => values[own] ?? '');
    const reformed = reformedKeys(keysOf(read), keysOf(incoming));
    if (reformed) asks.push({ kind: 'keys', ...reformed });
  }
  const byPlace = names.map((_, c) => places.find(([, place]) => place === c)?.[0]);
  return {
    list: lost ? [] : found.list,
    columns: [...now, ...added],
    added,
    columnsChanged: added.length > 0 || now.some((column, i) => column !== list.columns[i]),
    doubts: taken.doubts.map((own, r) => doubtsOf(own, byPlace, rows[r]!)),
    told: {
      added: lost ? 0 : count('added'),
      changed: lost ? 0 : count('changed'),
      gone: lost ? 0 : count('gone'),
      unchanged: found.unchanged,
      clashes: found.list.reduce(
        (sum, d) => sum + (d.change === 'changed' ? d.clashes.length : 0),
        0,
      ),
      notes: [...sheet.notes, ...(lost ? [] : found.notes)],
      newColumns: added.map((c) => c.name),
      missingColumns: now.filter((c) => missing.includes(c.id)).map((c) => c.name),
      ...(asks.length > 0 ? { asks } : {}),
      ...(lost
        ? {
            blocked: `${key!.name} is the key, and no heading of the source has that name.`,
          }
        : {}),
    },
  };
}

/** Columns that the source no longer has, each with a new heading that has the same values. */
function renamed(
  columns: readonly Column[],
  missing: readonly string[],
  names: readonly string[],
  ids: readonly (string | undefined)[],
  rows: readonly (readonly string[])[],
  read: readonly Values[],
  key: string | undefined,
): RereadQuestion[] {
  const asks: RereadQuestion[] = [];
  const taken = new Set<number>();
  const keyAt = ids.findIndex((id) => id !== undefined && id === key);
  for (const id of missing) {
    const column = columns.find((c) => c.id === id)!;
    const was = new Map(
      read.map((values, i) => [
        keyAt >= 0 ? (values[key!] ?? '').trim() : String(i),
        (values[id] ?? '').trim(),
      ]),
    );
    const all = new Set([...was.values()].filter((v) => v !== ''));
    let best: { at: number; records: number } | undefined;
    names.forEach((_, c) => {
      if (ids[c] !== undefined || taken.has(c)) return;
      // the key itself is recognized by its values, wherever they are now
      const records = rows.filter((row, i) => {
        const value = (row[c] ?? '').trim();
        return (
          value !== '' &&
          (id === key
            ? all.has(value)
            : was.get(keyAt >= 0 ? (row[keyAt] ?? '').trim() : String(i)) === value)
        );
      }).length;
      if (
        records >= Math.max(1, Math.min(rows.length, all.size) * 0.5) &&
        records > (best?.records ?? 0)
      )
        best = { at: c, records };
    });
    if (!best) continue;
    taken.add(best.at);
    asks.push({
      kind: 'heading',
      column: id,
      name: column.name,
      heading: names[best.at]!,
      records: best.records,
    });
  }
  return asks;
}

const nothing = ({ added, changed, gone, newColumns, asks = [] }: RereadTold): boolean =>
  added + changed + gone + newColumns.length + asks.length === 0;

/**
 * Stores the result of an update row by row, for review. Applies it at once if the list follows its
 * source and nothing is lost.
 */
export async function compareIntake(db: Database, id: number, book: Book): Promise<void> {
  const intake = await db
    .selectFrom('intakes')
    .select(['list_id', 'same', 'created_by'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const listId = intake.list_id!;
  const { told, list } = await compare(db, listId, book, intake.same ?? nothingSame);
  if (nothing(told)) {
    await db
      .updateTable('intakes')
      .set({ state: 'taken', told: JSON.stringify(told), bytes: Buffer.alloc(0) })
      .where('id', '=', id)
      .where('state', '=', 'waiting')
      .execute();
    await db
      .updateTable('lists')
      .set({ updated_at: clock.date() })
      .where('id', '=', listId)
      .execute();
    return;
  }
  const kept = await db.transaction().execute(async (tx) => {
    if (!(await holdIntake(tx, id, 'waiting'))) return false;
    // more was declared to be the same in the meantime, and the task of that declaration compares
    // it
    const now = await tx
      .selectFrom('intakes')
      .select('same')
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    if (JSON.stringify(now.same) !== JSON.stringify(intake.same)) return false;
    await tx.deleteFrom('intake_rows').where('intake_id', '=', id).execute();
    const batch = 5000;
    const json = (value: unknown) => (value === undefined ? null : JSON.stringify(value));
    for (let from = 0; from < list.length; from += batch) {
      const part = list.slice(from, from + batch);
      await sql`
        insert into intake_rows (intake_id, seq, change, record_id, before, after, clashes)
        select ${id}::int, *
          from unnest(${part.map((_, i) => from + i)}::int[], ${part.map((d) => d.change)}::text[],
          ${part.map((d) => (d.change === 'added' ? null : d.record))}::bigint[],
            ${part.map((d) => (d.change === 'added' ? null : json(d.before)))}::json[],
          ${part.map((d) => (d.change === 'gone' ? null : json(d.after)))}::json[],
            ${part.map((d) => (d.change === 'changed' && d.clashes.length ? json(d.clashes) : null))}::json[])`.execute(
        tx,
      );
    }
    await tx
      .updateTable('intakes')
      .set({ state: 'read', told: JSON.stringify(told) })
      .where('id', '=', id)
      .execute();
    return true;
  });
  if (!kept) return;
  const { origin } = await db
    .selectFrom('lists')
    .select('origin')
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  const harmless =
    told.gone === 0 && told.clashes === 0 && told.missingColumns.length === 0 && !told.asks;
  if (origin && sourceOf(origin).takes?.(origin) && harmless && intake.created_by === 'the In-tray')
    await takeReread(db, id, book, 'the In-tray', 'read');
}

/** The effect of an update, record by record and cell by cell. */
export async function rereadRows(
  db: Database,
  id: number,
  from: number,
  change: ChangedRow['change'] | undefined,
): Promise<ChangedRow[]> {
  const intake = await db
    .selectFrom('intakes')
    .select(['list_id', 'told'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  if (intake.list_id === null) return [];
  const list = await db
    .selectFrom('lists')
    .select(['columns', 'next_column'])
    .where('id', '=', intake.list_id)
    .executeTakeFirstOrThrow();
  const columns = [
    ...list.columns,
    ...newColumns(intake.told?.newColumns ?? [], [], list.next_column),
  ];
  let query = db
    .selectFrom('intake_rows')
    .leftJoin('records', 'records.id', 'intake_rows.record_id')
    .select(['seq', 'change', 'before', 'after', 'clashes', 'record_id', 'records.values as now'])
    .where('intake_id', '=', id)
    .where('seq', '>=', from)
    .orderBy('seq')
    .limit(100);
  if (change) query = query.where('change', '=', change);
  return (await query.execute()).map((row) => {
    const told = changedRow(columns, { ...row, record: row.record_id ?? 0, now: row.now ?? null });
    const secret = new Set(secretsOf(columns).map((c) => c.id));
    const clashes = (row.clashes ?? []).map((clash) => ({
      column: columns.find((c) => c.id === clash.column)?.name ?? '',
      before: secret.has(clash.column) ? dots : clash.here,
      after: secret.has(clash.column) ? dots : clash.there,
      clash: true,
    }));
    return { ...told, cells: [...told.cells, ...clashes] };
  });
}

/**
 * Takes a re-read into its list in one revision that can be undone. Printed state and hand edits
 * survive.
 */
export async function takeReread(
  db: Database,
  id: number,
  book: Book,
  actor: string,
  state: 'read' | 'taking' = 'taking',
): Promise<void> {
  const intake = await db
    .selectFrom('intakes')
    .select(['file_name', 'list_id', 'take', 'same', 'told'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const listId = intake.list_id!;
  const wanted: RereadTake = (intake.take as RereadTake | null) ?? { clashes: 'here', gone: 'out' };
  const touched = await db.transaction().execute(async (tx) => {
    if (!(await holdIntake(tx, id, state))) return undefined;
    const before = await tx
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', listId)
      .forUpdate()
      .executeTakeFirstOrThrow();
    const { told, list, columns, added, columnsChanged, doubts } = await compare(
      tx,
      listId,
      book,
      intake.same ?? nothingSame,
    );
    if (told.blocked) throw new Refusal(`${told.blocked} Choose that column first.`);
    const shown = intake.told;
    if (
      state === 'taking' &&
      shown &&
      (told.added !== shown.added || told.changed !== shown.changed || told.gone !== shown.gone)
    )
      throw new Refusal(
        'The list was changed while you reviewed this. Update from the source again to see the result now.',
      );
    if (columnsChanged)
      await tx
        .updateTable('lists')
        .set((e) => ({
          columns: JSON.stringify(columns),
          next_column: e('next_column', '+', added.length),
        }))
        .where('id', '=', listId)
        .execute();
    const steps: Step[] = [];
    await change(tx, listId, columns, list, wanted, steps);
    const others = await remove(tx, listId, list, wanted, steps);
    await add(tx, listId, columns, list, doubts, steps);
    await doubt(tx, list, doubts);
    const words = [
      `${told.added} added`,
      `${told.changed} changed`,
      `${wanted.gone === 'out' ? told.gone : 0} gone`,
    ].join(', ');
    const counted = await revise(
      tx,
      listId,
      'reread',
      `Updated from ${intake.file_name}: ${words}`,
      actor,
      steps,
      columnsChanged ? { before: before.columns, after: columns } : undefined,
    );
    await tx
      .updateTable('intakes')
      .set({ state: 'taken', bytes: Buffer.alloc(0) })
      .where('id', '=', id)
      .execute();
    await tx.deleteFrom('intake_rows').where('intake_id', '=', id).execute();
    return {
      ids: [...steps.filter((s) => s.change !== 'gone').map((s) => s.record), ...others],
      columns: columnsChanged,
      change: counted,
    };
  });
  if (!touched) return;
  if (touched.columns) await workOutAll(db, listId);
  else if (touched.ids.length > 0) await judgeChanged(db, listId, touched.ids, touched.change);
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
  const changed = new Map(
    list.flatMap((d) => (d.change === 'changed' ? [[d.record, d] as const] : [])),
  );
  const ids = [...changed.keys()];
  const batch = 2000;
  for (let from = 0; from < ids.length; from += batch) {
    const rows = await tx
      .selectFrom('records')
      .select(['id', 'position', 'values', 'hand'])
      .where(sql<boolean>`id = any(${ids.slice(from, from + batch)}::bigint[])`)
      .execute();
    const writing = rows.map((row): RecordToWrite => {
      const { before, after, clashes } = changed.get(row.id)!;
      if (wanted.clashes === 'there') {
        const theirs = { ...after, ...Object.fromEntries(clashes.map((c) => [c.column, c.there])) };
        steps.push({
          record: row.id,
          change: 'changed',
          before: { ...before, ...Object.fromEntries(clashes.map((c) => [c.column, c.here])) },
          after: theirs,
        });
        return { ...row, next: theirs };
      }
      if (Object.keys(after).length > 0)
        steps.push({ record: row.id, change: 'changed', before, after });
      // the value here stays, and the source's new value is remembered, so that it is not asked
      // about again
      return {
        ...row,
        hand: { ...row.hand, ...Object.fromEntries(clashes.map((c) => [c.column, c.there])) },
        next: after,
      };
    });
    await writeRecords(tx, listId, columns, writing, false);
  }
}

async function remove(
  tx: Database,
  listId: number,
  list: readonly Difference[],
  wanted: RereadTake,
  steps: Step[],
): Promise<number[]> {
  const gone = list.flatMap((d) => (d.change === 'gone' ? [d.record] : []));
  if (wanted.gone === 'stay' || gone.length === 0) return [];
  const others = await sharersOf(tx, listId, gone);
  for (const [record, { values, position, kept }] of await takeOut(tx, listId, gone))
    steps.push({ record, change: 'gone', before: values, position, kept });
  return others;
}

async function add(
  tx: Database,
  listId: number,
  columns: readonly Column[],
  list: readonly Difference[],
  doubts: Compared['doubts'],
  steps: Step[],
): Promise<void> {
  const found = list.flatMap((d) => (d.change === 'added' ? [d] : []));
  const added = found.map((d) => d.after);
  if (added.length === 0) return;
  const { last } = await tx
    .selectFrom('records')
    .select(sql<number | null>`max(position)`.as('last'))
    .where('list_id', '=', listId)
    .executeTakeFirstOrThrow();
  const first = (last ?? -1) + 1;
  const ids = await insertRecords(
    tx,
    listId,
    added,
    first,
    found.map((d) => doubts[d.row]),
  );
  await writeRecords(
    tx,
    listId,
    columns,
    ids.map((id, i) => ({ id, position: first + i, values: added[i]!, hand: null, next: {} })),
    false,
  );
  ids.forEach((record, i) =>
    steps.push({ record, change: 'added', after: added[i], position: first + i }),
  );
}

/** Stores the doubts about the cells of changed records as the source gives them now. */
async function doubt(
  tx: Database,
  list: readonly Difference[],
  doubts: Compared['doubts'],
): Promise<void> {
  const changed = list.flatMap((d) =>
    d.change === 'changed' && doubts[d.row]
      ? [{ id: d.record, doubts: JSON.stringify(doubts[d.row]) }]
      : [],
  );
  if (changed.length > 0)
    await sql`update records r set doubts = n.doubts
      from unnest(${changed.map((c) => c.id)}::bigint[],
      ${changed.map((c) => c.doubts)}::json[]) as n(id, doubts) where r.id = n.id`.execute(tx);
}
