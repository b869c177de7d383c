import { type CellClash, type CellEdit } from '../../contract';
import { titleColumn, type Column, type Values } from '../../core/records/columns';
import { dots } from '../../core/records/sealed';
import { counted } from '../../core/base/words';
import { sql } from 'kysely';
import { type Database, oneOf, Refusal, type RevisionKind } from '../platform';
import { judgeRecords, rejudgeList, sharersOf } from '../judging';
import { insertRecords } from './lists';
import { maskedValues } from '../access';
import { checkOwnRecords } from './own';
import { revise, takeOut, type Step } from './revisions';
import { writeRecords, type RecordToWrite } from './working';

const describe = (cells: number): string => `${counted(cells, 'cell')} changed`;
const records = (n: number): string => `${counted(n, 'record')}`;

/** Changes cells, all in one revision that can be undone. Returns how many were changed. */
export async function editCells(
  db: Database,
  listId: number,
  edits: readonly CellEdit[],
  actor: string,
  as: { kind: RevisionKind; note?: string } = { kind: 'edit' },
): Promise<number> {
  const done = await db.transaction().execute((tx) => editCellsIn(tx, listId, edits, actor, as));
  await judgeChanged(db, listId, done.touched, done.change);
  return done.cells;
}

/** The same in the caller's transaction. The caller has the changed records checked afterwards. */
export async function editCellsIn(
  tx: Database,
  listId: number,
  edits: readonly CellEdit[],
  actor: string,
  as: { kind: RevisionKind; note?: string } = { kind: 'edit' },
): Promise<{ touched: number[]; cells: number; change: number | undefined }> {
  const { columns } = await tx
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', listId)
    .forUpdate()
    .executeTakeFirstOrThrow();
  const worked = columns.find((c) => c.worked && edits.some((e) => e.column === c.id));
  if (worked)
    throw new Refusal(
      `${worked.name} is worked out from other columns, so you cannot type over it. Change its sentence, or those columns.`,
    );
  const known = new Set(columns.map((c) => c.id));
  const byRecord = new Map<number, Record<string, string>>();
  for (const edit of edits)
    if (known.has(edit.column))
      byRecord.set(edit.record, { ...byRecord.get(edit.record), [edit.column]: edit.value });
  const rows = await tx
    .selectFrom('records')
    .select(['id', 'position', 'values', 'hand'])
    .where('list_id', '=', listId)
    .where(oneOf('id', [...byRecord.keys()]))
    .forUpdate()
    .execute();
  if (rows.length < byRecord.size) await checkOwnRecords(tx, listId, [...byRecord.keys()]);
  if (rows.length < byRecord.size && edits.some((e) => e.from !== undefined)) {
    const there = new Set(rows.map((row) => row.id));
    const gone = edits.find((e) => !there.has(e.record))!;
    throw new Refusal(
      `This record was deleted in another window. Your entry “${gone.value}” was not saved. Undo brings the record back.`,
      409,
    );
  }
  const clashes = clashesOf(edits, rows, columns);
  if (clashes.length > 0) throw new Refusal(clashWords(clashes), 409, { clashes });
  const changed: RecordToWrite[] = [];
  const steps: Step[] = [];
  let count = 0;
  for (const row of rows) {
    const next = Object.fromEntries(
      Object.entries(byRecord.get(row.id) ?? {}).filter(
        ([c, value]) => value !== (row.values[c] ?? ''),
      ),
    );
    const ids = Object.keys(next);
    if (ids.length === 0) continue;
    count += ids.length;
    changed.push({ ...row, next });
    steps.push({
      record: row.id,
      change: 'changed',
      before: Object.fromEntries(ids.map((c) => [c, row.values[c] ?? ''])),
      after: next,
    });
  }
  if (steps.length > 0) {
    await writeRecords(tx, listId, columns, changed, true);
    return {
      touched: steps.map((s) => s.record),
      cells: count,
      change: await revise(tx, listId, as.kind, as.note ?? describe(count), actor, steps),
    };
  }
  return { touched: [], cells: 0, change: undefined };
}

function clashesOf(
  edits: readonly CellEdit[],
  rows: readonly { id: number; values: Values }[],
  columns: readonly Column[],
): CellClash[] {
  const title = titleColumn(columns);
  const byId = new Map(rows.map((row) => [row.id, row.values]));
  return edits.flatMap(({ record, column, value, from }) => {
    const values = byId.get(record);
    const here = values?.[column] ?? '';
    if (!values || from === undefined || here === from || here === value) return [];
    // a value that is hidden from the person who changes it comes as its token
    if (maskedValues(columns, record, values)[column] === from) return [];
    const secret = maskedValues(columns, record, values)[column] !== here;
    const columnName = columns.find((c) => c.id === column)?.name ?? '';
    return [
      {
        record,
        title: values[title?.id ?? ''] ?? '',
        column,
        columnName,
        here: secret ? dots : here,
        yours: value,
      },
    ];
  });
}

function clashWords(clashes: readonly CellClash[]): string {
  const { columnName, title, here, yours } = clashes[0]!;
  return clashes.length === 1
    ? `Someone changed ${columnName} of ${title || 'this record'} in another window: it now says “${here}”, and you entered “${yours}”.`
    : `${counted(clashes.length, 'cell was', 'cells were')} changed in another window. The first is ${columnName} of ${title || 'a record'}, which says “${here}” there and “${yours}” here.`;
}

/** Checks what changed: record by record while that is quicker than the whole list. */
export async function judgeChanged(
  db: Database,
  listId: number,
  ids: readonly number[],
  change: number | undefined,
): Promise<void> {
  if (ids.length > 5000) await rejudgeList(db, listId);
  else await judgeRecords(db, listId, ids, change);
}

/** Adds records at the end of a list. Returns their numbers. */
export async function addRecords(
  db: Database,
  listId: number,
  rows: readonly Values[],
  actor: string,
): Promise<number[]> {
  const { added: ids, change } = await db.transaction().execute(async (tx) => {
    const { columns } = await tx
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', listId)
      .forUpdate()
      .executeTakeFirstOrThrow();
    const { last } = await tx
      .selectFrom('records')
      .select(sql<number | null>`max(position)`.as('last'))
      .where('list_id', '=', listId)
      .executeTakeFirstOrThrow();
    const first = (last ?? -1) + 1;
    const own = new Set(columns.filter((c) => !c.worked).map((c) => c.id));
    const whole = rows.map((row) => Object.fromEntries([...own].map((id) => [id, row[id] ?? ''])));
    const added = await insertRecords(tx, listId, whole, first);
    await writeRecords(
      tx,
      listId,
      columns,
      added.map((id, i) => ({ id, position: first + i, values: whole[i]!, hand: null, next: {} })),
      false,
    );
    const steps = added.map((record, i): Step => ({
      record,
      change: 'added',
      after: whole[i],
      position: first + i,
    }));
    return {
      added,
      change: await revise(tx, listId, 'rows', `${records(rows.length)} added`, actor, steps),
    };
  });
  await judgeChanged(db, listId, ids, change);
  return ids;
}

/** Removes records from a list. Undo brings them back, with where they were printed. */
export async function removeRecords(
  db: Database,
  listId: number,
  ids: readonly number[],
  actor: string,
): Promise<number> {
  const { gone, sharers, change } = await db.transaction().execute(async (tx) => {
    await tx
      .selectFrom('lists')
      .select('id')
      .where('id', '=', listId)
      .forUpdate()
      .executeTakeFirstOrThrow();
    await checkOwnRecords(tx, listId, ids);
    const others = await sharersOf(tx, listId, ids);
    const taken = await takeOut(tx, listId, ids);
    const steps = [...taken].map(([record, { values, position, kept }]): Step => ({
      record,
      change: 'gone',
      before: values,
      position,
      kept,
    }));
    const change =
      steps.length > 0
        ? await revise(tx, listId, 'rows', `${records(steps.length)} deleted`, actor, steps)
        : undefined;
    return { gone: steps.length, sharers: others, change };
  });
  await judgeChanged(db, listId, sharers, change);
  return gone;
}
