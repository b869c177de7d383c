import { type Keep, type KeptView, keptViewSchema } from '../../contract';

import type { Database } from '../platform';

/**
 * What was saved of one kind, by name; checked when it is read, since an earlier version may have
 * written it.
 */
export async function listKept<const K extends KeptView['kind']>(
  db: Database,
  kind: K,
): Promise<Extract<KeptView, { kind: K }>[]> {
  const rows = await db
    .selectFrom('kept')
    .select(['id', 'name', 'kind', 'document'])
    .where('kind', '=', kind)
    .orderBy('name')
    .execute();
  return rows
    .map((row) => keptViewSchema.parse(row))
    .filter((kept): kept is Extract<KeptView, { kind: K }> => kept.kind === kind);
}

/** Saves something; it replaces an item of the same kind and name. */
export async function keep(
  db: Database,
  { kind, name: called, document }: Keep,
  actor: string,
): Promise<number> {
  const text = JSON.stringify(document);
  const { id } = await db
    .insertInto('kept')
    .values({ kind, name: called, document: text, created_by: actor })
    .onConflict((c) =>
      c.columns(['kind', 'name']).doUpdateSet({ document: text, created_by: actor }),
    )
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}

export async function forgetKept(db: Database, id: number): Promise<void> {
  await db.deleteFrom('kept').where('id', '=', id).execute();
}
