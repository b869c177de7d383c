import { counted } from '../../core/base/words';
import { sql } from 'kysely';
import { keyColumn, nameColumn, type Column, type Values } from '../../core/records/columns';
import type { ChangedRow, RevisionCounts, RevisionView } from '../../contract';
import {
  clock,
  type Database,
  type KeptWithRecord,
  oneOf,
  Refusal,
  type RevisionKind,
} from '../platform';
import { maskedCells } from '../access';
import { tellLookers, withLookedUpSecrets } from './looked-up';
import { changed, judgeRecords, rejudgeList, sharersOf } from '../judging';
import { workOutAll, writeRecords } from './working';

/** The change of one record. Of a changed one only the changed cells. */
export interface Step {
  record: number;
  change: 'added' | 'changed' | 'gone';
  before?: Values;
  after?: Values;
  position?: number;
  kept?: KeptWithRecord;
}

/** Kinds that are not a change of their own. */
const notContent = ['intake', 'undo', 'redo'] as const;

/**
 * Writes down a change of a list, so that it can be shown and undone, and counts its revision up.
 * Returns the count of changes, for the caller that checks it.
 */
export async function revise(
  db: Database,
  listId: number,
  kind: RevisionKind,
  note: string,
  actor: string,
  steps: readonly Step[] = [],
  columns?: { before: Column[]; after: Column[] },
): Promise<number> {
  const { revision } = await db
    .updateTable('lists')
    .set((e) => ({ revision: e('revision', '+', 1), updated_at: clock.date() }))
    .where('id', '=', listId)
    .returning('revision')
    .executeTakeFirstOrThrow();
  const counts: RevisionCounts | null = steps.length
    ? {
        added: steps.filter((s) => s.change === 'added').length,
        changed: steps.filter((s) => s.change === 'changed').length,
        gone: steps.filter((s) => s.change === 'gone').length,
      }
    : null;
  // the targets of a column's links are kept by a trigger of the table, which does not know who set
  // them
  if (columns)
    await db
      .updateTable('link_changes')
      .set({ changed_by: actor })
      .where('changed_by', 'is', null)
      .where('set_id', 'in', (e) =>
        e.selectFrom('link_sets').select('id').where('list_id', '=', listId),
      )
      .execute();
  const keeps = columns && !notContent.some((k) => k === kind);
  await db
    .insertInto('revisions')
    .values({
      list_id: listId,
      number: revision,
      kind,
      note,
      counts: counts && JSON.stringify(counts),
      columns_before: keeps ? JSON.stringify(columns.before) : null,
      columns_after: keeps ? JSON.stringify(columns.after) : null,
      created_by: actor,
    })
    .execute();
  if (!notContent.some((k) => k === kind)) await dropUndone(db, listId);
  const batch = 5000;
  for (let from = 0; from < steps.length; from += batch) {
    const part = steps.slice(from, from + batch);
    const json = (value: unknown) => (value === undefined ? null : JSON.stringify(value));
    await sql`
      insert into revision_rows (list_id, number, seq, record_id, change, before, after, position,
        kept)
      select ${listId}::int, ${revision}::int, *
        from unnest(${part.map((_, i) => from + i)}::int[], ${part.map((s) => s.record)}::bigint[],
        ${part.map((s) => s.change)}::text[], ${part.map((s) => json(s.before))}::json[],
          ${part.map((s) => json(s.after))}::json[],
        ${part.map((s) => s.position ?? null)}::int[],
          ${part.map((s) => json(s.kept))}::json[])`.execute(db);
  }
  // a column is new or calculated differently: no record's value is right until that is done
  const others =
    columns &&
    columns.after.some(
      (c) => c.worked && !columns.before.some((b) => b.id === c.id && sameJson(b.worked, c.worked)),
    );
  return changed(db, listId, others || (columns !== undefined && kind === 'reread'));
}

/**
 * After a new change, an undone one can be redone from the history only: of the list, and of the
 * documents of its jobs.
 */
export async function dropUndone(db: Database, listId: number): Promise<void> {
  await db
    .updateTable('revisions')
    .set({ dropped: true })
    .where('list_id', '=', listId)
    .where('undone', '=', true)
    .execute();
  await db
    .updateTable('job_versions')
    .set({ dropped: true })
    .where('undone_at', 'is not', null)
    .where('job_id', 'in', (e) => e.selectFrom('jobs').select('id').where('list_id', '=', listId))
    .execute();
}

/** The revision that undo would undo, or redo would redo. */
async function nextStep(
  db: Database,
  listId: number,
  direction: 'undo' | 'redo',
): Promise<number | undefined> {
  const last = await db
    .selectFrom('revisions')
    .select((e) => e.fn.max('number').as('number'))
    .where('list_id', '=', listId)
    .where('undone', '=', false)
    .where('kind', 'not in', [...notContent])
    .executeTakeFirst();
  if (direction === 'undo') return last?.number ?? undefined;
  const undone = await db
    .selectFrom('revisions')
    .select((e) => e.fn.min('number').as('number'))
    .where('list_id', '=', listId)
    .where('undone', '=', true)
    .where('dropped', '=', false)
    .executeTakeFirst();
  return undone?.number ?? undefined;
}

/**
 * Undoes the last change, or redoes it. Returns what it was, in words; undefined if there is
 * nothing.
 */
export async function stepBack(
  db: Database,
  listId: number,
  direction: 'undo' | 'redo',
  actor: string,
): Promise<string | undefined> {
  const turned = await db.transaction().execute(async (tx) => {
    // of two steps at once the second begins from what the first has left
    await lockList(tx, listId);
    const number = await nextStep(tx, listId, direction);
    return number === undefined ? undefined : turnRevisionIn(tx, listId, number, direction, actor);
  });
  return turned && afterTurn(db, listId, turned);
}

/**
 * Undoes one revision, or does it again. Cells that were changed since by something else stay as
 * they are, and the words say so.
 * @throws Refusal when it cannot be undone by itself
 */
export async function turnRevision(
  db: Database,
  listId: number,
  number: number,
  direction: 'undo' | 'redo',
  actor: string,
): Promise<string> {
  const turned = await db
    .transaction()
    .execute((tx) => turnRevisionIn(tx, listId, number, direction, actor));
  return afterTurn(db, listId, turned);
}

/**
 * The effect of turning a revision: the rows it touched, and whether every row has to be checked
 * again.
 */
export interface Turned {
  touched: number[];
  words: string;
  whole: boolean;
  change: number;
}

/**
 * Calculates what depends on an undone or redone revision, after it is committed. Returns what it
 * was, in words.
 */
export async function afterTurn(db: Database, listId: number, done: Turned): Promise<string> {
  if (done.whole) await workOutAll(db, listId);
  else if (done.touched.length > 5000) await rejudgeList(db, listId);
  else await judgeRecords(db, listId, done.touched, done.change);
  return done.words;
}

/** Columns without what the server adds about other lists, which their changes do not include. */
const ownOf = (columns: readonly Column[]): Column[] =>
  columns.map((column) => {
    const own = { ...column };
    delete own.looksUpSecret;
    return own;
  });

/**
 * Locks a list until the transaction ends, before anything else of it or of its jobs is locked.
 */
async function lockList(tx: Database, listId: number): Promise<void> {
  await tx.selectFrom('lists').select('id').where('id', '=', listId).forUpdate().execute();
}

/** Like `turnRevision`, in the caller's transaction; call `afterTurn` after the commit. */
export async function turnRevisionIn(
  tx: Database,
  listId: number,
  number: number,
  direction: 'undo' | 'redo',
  actor: string,
): Promise<Turned> {
  const list = await tx
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', listId)
    .forUpdate()
    .executeTakeFirstOrThrow();
  const revision = await tx
    .selectFrom('revisions')
    .selectAll()
    .where('list_id', '=', listId)
    .where('number', '=', number)
    .executeTakeFirstOrThrow();
  if (revision.kind === 'intake')
    throw new Refusal(
      'This is where the list was created. It cannot be undone. To remove the list, delete it.',
    );
  if (revision.undone === (direction === 'undo'))
    throw new Refusal(
      direction === 'undo' ? 'This change was already undone.' : 'This change is already applied.',
    );
  const [from, to] =
    direction === 'undo'
      ? [revision.columns_after, revision.columns_before]
      : [revision.columns_before, revision.columns_after];
  let columns = list.columns;
  if (from && to) {
    if (!sameJson(ownOf(from), ownOf(columns)))
      throw new Refusal('The columns were changed again after this. Undo the later change first.');
    columns = await withLookedUpSecrets(tx, to);
    await tx
      .updateTable('lists')
      .set({ columns: JSON.stringify(columns) })
      .where('id', '=', listId)
      .execute();
    await tellLookers(tx, listId);
  }
  const { touched, skipped } = await turnRows(
    tx,
    listId,
    number,
    direction,
    columns,
    revision.kind !== 'reread',
  );
  await tx
    .updateTable('revisions')
    .set({
      undone: direction === 'undo',
      undone_at: direction === 'undo' ? sql<Date>`clock_timestamp()` : null,
    })
    .where('list_id', '=', listId)
    .where('number', '=', number)
    .execute();
  const words =
    skipped > 0
      ? `${revision.note}; ${counted(skipped, 'cell')} changed since stay as they are`
      : revision.note;
  const change = await revise(
    tx,
    listId,
    direction,
    `${direction === 'undo' ? 'Undone' : 'Done again'}: ${words}`,
    actor,
    [],
    from && to ? { before: from, after: to } : undefined,
  );
  return { touched, words, whole: Boolean(from), change };
}

export const sameJson = (a: unknown, b: unknown): boolean => stable(a) === stable(b);
const stable = (value: unknown): string =>
  JSON.stringify(value, (_, v: unknown) =>
    v && typeof v === 'object' && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([x], [y]) => (x < y ? -1 : 1)))
      : v,
  );

async function turnRows(
  tx: Database,
  listId: number,
  number: number,
  direction: 'undo' | 'redo',
  columns: readonly Column[],
  byHand: boolean,
): Promise<{ touched: number[]; skipped: number }> {
  const touched: number[] = [];
  let skipped = 0;
  const batch = 2000;
  for (let from = 0; ; from += batch) {
    const rows = await tx
      .selectFrom('revision_rows')
      .selectAll()
      .where('list_id', '=', listId)
      .where('number', '=', number)
      .where('seq', '>=', from)
      .where('seq', '<', from + batch)
      .orderBy('seq')
      .execute();
    if (rows.length === 0) return { touched, skipped };
    const comes = direction === 'undo' ? 'gone' : 'added';
    const back = rows.filter((r) => r.change === comes);
    const away = rows.filter((r) => r.change !== 'changed' && r.change !== comes);
    const current = new Map(
      (
        await tx
          .selectFrom('records')
          .select(['id', 'position', 'values', 'hand'])
          .where(
            oneOf(
              'id',
              rows.map((r) => r.record_id),
            ),
          )
          .execute()
      ).map((r) => [r.id, r]),
    );
    const changed = [];
    for (const row of rows) {
      const record = current.get(row.record_id);
      if (row.change !== 'changed' || !record) continue;
      const [is, becomes] =
        direction === 'undo'
          ? [row.after ?? {}, row.before ?? {}]
          : [row.before ?? {}, row.after ?? {}];
      const next: Record<string, string> = {};
      for (const [column, value] of Object.entries(becomes)) {
        if ((record.values[column] ?? '') === (is[column] ?? '')) next[column] = value;
        else skipped++;
      }
      changed.push({ ...record, next });
      touched.push(record.id);
    }
    await writeRecords(tx, listId, columns, changed, byHand);
    await restore(tx, listId, back);
    touched.push(...back.map((r) => r.record_id));
    const leaving = away.map((r) => r.record_id);
    touched.push(...(await sharersOf(tx, listId, leaving)));
    const gone = await takeOut(tx, listId, leaving);
    // records that were added come back, if at all, as they are now
    for (const row of away) {
      const record = gone.get(row.record_id);
      if (record)
        await tx
          .updateTable('revision_rows')
          .set({
            [row.change === 'added' ? 'after' : 'before']: JSON.stringify(record.values),
            position: record.position,
            kept: JSON.stringify(record.kept),
          })
          .where('list_id', '=', listId)
          .where('number', '=', number)
          .where('seq', '=', row.seq)
          .execute();
    }
  }
}

/** Removes records from a list. Returns everything that is needed to restore them. */
export async function takeOut(
  tx: Database,
  listId: number,
  ids: readonly number[],
): Promise<Map<number, { values: Values; position: number; kept: KeptWithRecord }>> {
  if (ids.length === 0) return new Map();
  const printed = await tx
    .selectFrom('job_rows')
    .select(['record_id', 'job_id', 'run_mark', 'run_id', 'run_page', 'run_place', 'printed'])
    .where(oneOf('record_id', ids))
    .where('run_id', 'is not', null)
    .execute();
  const gone = await tx
    .deleteFrom('records')
    .where('list_id', '=', listId)
    .where(oneOf('id', ids))
    .returning(['id', 'position', 'values', 'hand', 'doubts'])
    .execute();
  const printedOf = new Map<number, typeof printed>();
  for (const row of printed)
    printedOf.set(row.record_id, [...(printedOf.get(row.record_id) ?? []), row]);
  return new Map(
    gone.map((record) => [
      record.id,
      {
        values: record.values,
        position: record.position,
        kept: {
          hand: record.hand,
          doubts: record.doubts,
          printed: printedOf.get(record.id) ?? [],
        },
      },
    ]),
  );
}

/** Brings records back with their own numbers, their hand edits and where they were printed. */
async function restore(
  tx: Database,
  listId: number,
  rows: readonly {
    record_id: number;
    change: string;
    before: Values | null;
    after: Values | null;
    position: number | null;
    kept: KeptWithRecord | null;
  }[],
): Promise<void> {
  if (rows.length === 0) return;
  await sql`
    insert into records (id, list_id, position, values, hand, doubts) overriding system value
    select id, ${listId}::int, position, values, hand, doubts
      from unnest(${rows.map((r) => r.record_id)}::bigint[],
      ${rows.map((r) => r.position ?? 0)}::int[],
      ${rows.map((r) => JSON.stringify((r.change === 'gone' ? r.before : r.after) ?? {}))}::json[],
      ${rows.map((r) => (r.kept?.hand ? JSON.stringify(r.kept.hand) : null))}::json[],
      ${rows.map((r) => (r.kept?.doubts ? JSON.stringify(r.kept.doubts) : null))}::json[]) as n(id,
        position, values, hand, doubts)
    on conflict (id) do nothing`.execute(tx);
  for (const row of rows)
    for (const run of row.kept?.printed ?? [])
      await tx
        .insertInto('job_rows')
        .values({
          ...run,
          record_id: row.record_id,
          position: row.position ?? 0,
          records_mark: 'ready',
          stamps_mark: 'ready',
          piece_mark: 'ready',
          overall: 'ready',
          codes: 'ready',
          notes: '[]',
        })
        .onConflict((c) => c.doNothing())
        .execute();
}

/** The revisions of a list, the latest first. */
export async function listRevisions(db: Database, listId: number): Promise<RevisionView[]> {
  const rows = await db
    .selectFrom('revisions')
    .selectAll()
    .where('list_id', '=', listId)
    .where('kind', 'not in', ['undo', 'redo'])
    .orderBy('number', 'desc')
    .limit(200)
    .execute();
  return rows.map((r) => ({
    number: r.number,
    kind: r.kind,
    note: r.note,
    undone: r.undone,
    counts: r.counts,
    by: r.created_by,
    at: r.created_at.toISOString(),
    canUndo: r.kind !== 'intake',
  }));
}

/** The changes of a revision, record by record and cell by cell. */
export async function revisionRows(
  db: Database,
  listId: number,
  number: number,
  from: number,
): Promise<{ total: number; rows: ChangedRow[] }> {
  const { columns } = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  const { total } = await db
    .selectFrom('revision_rows')
    .select((e) => e.fn.countAll<number>().as('total'))
    .where('list_id', '=', listId)
    .where('number', '=', number)
    .executeTakeFirstOrThrow();
  const rows = await db
    .selectFrom('revision_rows')
    .leftJoin('records', 'records.id', 'revision_rows.record_id')
    .select(['seq', 'change', 'before', 'after', 'records.values as now', 'record_id as record'])
    .where('revision_rows.list_id', '=', listId)
    .where('number', '=', number)
    .where('seq', '>=', from)
    .orderBy('seq')
    .limit(100)
    .execute();
  return { total, rows: rows.map((r) => changedRow(columns, { ...r, now: r.now ?? null })) };
}

/** A change in words and cells, called by its record's name and key. */
export function changedRow(
  columns: readonly Column[],
  given: {
    seq: number;
    record: number;
    change: ChangedRow['change'];
    before: Values | null;
    after: Values | null;
    now: Values | null;
  },
): ChangedRow {
  // a secret is reported as changed, without its old and new value
  const [before, after, now] = [given.before, given.after, given.now].map((cells) =>
    maskedCells(columns, given.record, cells),
  );
  const row = { ...given, before, after, now };
  const key = keyColumn(columns);
  const name = nameColumn(columns) ?? key ?? columns[0];
  const whole = { ...row.before, ...row.now, ...row.after };
  const cells = columns
    .filter((c) => c.id in (row.before ?? {}) || c.id in (row.after ?? {}))
    .map((c) => ({
      column: c.name,
      before: row.before?.[c.id] ?? '',
      after: row.after?.[c.id] ?? '',
    }))
    .filter((c) => row.change === 'changed' || c.before !== '' || c.after !== '');
  return {
    seq: row.seq,
    change: row.change,
    title: whole[name?.id ?? ''] ?? '',
    key: key ? (whole[key.id] ?? '') : '',
    cells,
  };
}
