import { counted } from '../../core/base/words';
import { sql } from 'kysely';
import { dots } from '../../core/records/sealed';
import { keyColumn, nameColumn, secretsOf } from '../../core/records/columns';
import {
  numberedApart,
  problemKinds,
  problemWords,
  type ProblemKind,
} from '../../core/records/problems';
import { type ProblemRow, type CellEdit } from '../../contract';
import { type Database, Refusal } from '../platform';
import { editCells } from './edits';
import { maskedText } from '../access';

/** How many records have each problem, and how many of them can be fixed at once. */
export async function problemCounts(
  db: Database,
  listId: number,
): Promise<{ kind: ProblemKind; records: number; mendable: number }[]> {
  const rows = await db
    .selectFrom('problems')
    .select((e) => [
      'kind',
      sql<number>`count(distinct record_id)`.as('records'),
      e.fn.count<number>('mended').as('mendable'),
    ])
    .where('list_id', '=', listId)
    .groupBy('kind')
    .execute();
  return rows
    .map((row) => ({ ...row, mendable: row.kind === 'repeat' ? row.records : row.mendable }))
    .sort((a, b) => problemKinds.indexOf(a.kind) - problemKinds.indexOf(b.kind));
}

/**
 * The records with one problem: what their cell contains, and what it would contain when fixed.
 */
export async function problemRows(
  db: Database,
  listId: number,
  kind: ProblemKind,
  masked = true,
): Promise<ProblemRow[]> {
  const { columns } = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  const key = keyColumn(columns);
  const name = nameColumn(columns) ?? key ?? columns[0];
  const rows = await db
    .selectFrom('problems')
    .innerJoin('records', 'records.id', 'problems.record_id')
    .select(['records.id', 'position', 'values', 'column_id', 'text', 'mended'])
    .where('problems.list_id', '=', listId)
    .where('kind', '=', kind)
    .orderBy('position')
    .limit(20_000)
    .execute();
  const hidden = new Set(masked ? secretsOf(columns).map((c) => c.id) : []);
  const numbered =
    kind === 'repeat' && key && !key.worked ? await apart(db, listId, key.id, rows) : undefined;
  return rows.map((row) => {
    const secret = hidden.has(row.column_id);
    const mended = numbered ? numbered.get(row.id) : (row.mended ?? undefined);
    const value = row.values[row.column_id] ?? '';
    return {
      record: row.id,
      number: row.position + 1,
      title: name && hidden.has(name.id) ? dots : (row.values[name?.id ?? ''] ?? ''),
      column: row.column_id,
      columnName: columns.find((c) => c.id === row.column_id)?.name ?? '',
      text: masked ? maskedText(columns, row.values, row.text) : row.text,
      value: secret ? dots : value,
      ...(mended !== undefined && mended !== value ? { mended: secret ? dots : mended } : {}),
    };
  });
}

/** Keys for repeats: the first record of each keeps its own. */
async function apart(
  db: Database,
  listId: number,
  key: string,
  rows: readonly { id: number; values: Readonly<Record<string, string>> }[],
): Promise<Map<number, string>> {
  const taken = await db
    .selectFrom('records')
    .select(sql<string>`trim(values->>${key})`.as('value'))
    .where('list_id', '=', listId)
    .execute();
  const groups = new Map<string, number[]>();
  for (const { id, values } of rows) {
    const value = (values[key] ?? '').trim();
    const same = groups.get(value);
    if (same) same.push(id);
    else groups.set(value, [id]);
  }
  const used = new Set(taken.map((t) => t.value));
  const out = new Map<number, string>();
  for (const [value, ids] of groups) {
    const values = numberedApart(
      ids.map(() => value),
      used,
    );
    ids.forEach((id, i) => out.set(id, values[i]!));
  }
  return out;
}

/**
 * Fixes chosen records of one problem, or all of them, in one revision. Returns the number of
 * changed cells.
 */
export async function mend(
  db: Database,
  listId: number,
  kind: ProblemKind,
  chosen: readonly number[] | undefined,
  actor: string,
): Promise<number> {
  if (!problemWords[kind].mend)
    throw new Refusal('Hand Stamp cannot fix this by itself. Type the right value into the cell.');
  const wanted = chosen && new Set(chosen);
  const edits: CellEdit[] = (await problemRows(db, listId, kind, false)).flatMap((row) =>
    row.mended !== undefined && (!wanted || wanted.has(row.record))
      ? [{ record: row.record, column: row.column, value: row.mended }]
      : [],
  );
  if (edits.length === 0) throw new Refusal('There is nothing left to fix here.');
  const words = problemWords[kind];
  return editCells(db, listId, edits, actor, {
    kind: 'mend',
    note: `${counted(edits.length, words.one, words.many)} fixed`,
  });
}
