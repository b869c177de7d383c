import { z } from 'zod';
import { keptContentSchema, keptLookSchema } from '../../core/payload/kept';
import { keptPieceSchema } from '../../core/piece/kept';
import { stockSchema } from '../../core/piece/stock';
import type { Database } from '../platform';

const name = z.string().trim().min(1, 'Give it a name.').max(80);
/** What can be kept for other lists and jobs, under a name of its own. */
export const keepSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('look'), name, document: keptLookSchema }),
  z.object({ kind: z.literal('content'), name, document: keptContentSchema }),
  z.object({ kind: z.literal('piece'), name, document: keptPieceSchema }),
  z.object({ kind: z.literal('stock'), name, document: stockSchema }),
]);

export async function listKept(db: Database, kind: 'look' | 'content' | 'piece' | 'stock') {
  return db
    .selectFrom('kept')
    .select(['id', 'name', 'document'])
    .where('kind', '=', kind)
    .orderBy('name')
    .execute();
}

/** Keeps something; of the same kind and name, the new one takes the place of the old. */
export async function keep(
  db: Database,
  { kind, name: called, document }: z.infer<typeof keepSchema>,
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
