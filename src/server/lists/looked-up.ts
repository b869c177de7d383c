import { isSecret, type Column } from '../../core/records/columns';
import { lookupsOf } from '../../core/records/worked';
import { columnsOf, type Database } from '../platform';

/** Columns of a list, each marked if it looks into a secret column of another list. */
export async function withLookedUpSecrets(
  db: Database,
  columns: readonly Column[],
): Promise<Column[]> {
  const others = new Map<number, readonly Column[]>();
  for (const { list } of columns.flatMap((c) => (c.worked ? lookupsOf(c.worked) : []))) {
    if (others.has(list)) continue;
    others.set(list, await columnsOf(db, list));
  }
  return columns.map((column) => {
    const plain: Column = { ...column };
    delete plain.looksUpSecret;
    const secret =
      column.worked !== undefined &&
      lookupsOf(column.worked).some(({ list, by, give }) =>
        (others.get(list) ?? []).some(
          (c, _i, all) => (c.id === by || c.id === give) && isSecret(c, all),
        ),
      );
    return secret ? { ...plain, looksUpSecret: true } : plain;
  });
}

/**
 * After the columns of a list have changed: updates the marks of lists that look into it, and so on
 * from list to list. In the transaction of the change.
 */
export async function tellLookers(tx: Database, changed: number): Promise<void> {
  const waiting = [changed];
  const seen = new Set<number>();
  for (let list = waiting.pop(); list !== undefined; list = waiting.pop()) {
    if (seen.has(list)) continue;
    seen.add(list);
    const lists = await tx.selectFrom('lists').select(['id', 'columns']).orderBy('id').execute();
    for (const { id, columns } of lists) {
      if (!columns.some((c) => c.worked && lookupsOf(c.worked).some((s) => s.list === list)))
        continue;
      const next = await withLookedUpSecrets(tx, columns);
      if (JSON.stringify(next) === JSON.stringify(columns)) continue;
      await tx
        .updateTable('lists')
        .set({ columns: JSON.stringify(next) })
        .where('id', '=', id)
        .execute();
      waiting.push(id);
    }
  }
}

/** Updates the marks of a list's columns that look into secret ones. */
export async function keepLookedUpSecrets(db: Database, listId: number): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { columns } = await tx
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', listId)
      .forUpdate()
      .executeTakeFirstOrThrow();
    const next = await withLookedUpSecrets(tx, columns);
    if (JSON.stringify(next) === JSON.stringify(columns)) return;
    await tx
      .updateTable('lists')
      .set({ columns: JSON.stringify(next) })
      .where('id', '=', listId)
      .execute();
    await tellLookers(tx, listId);
  });
}
