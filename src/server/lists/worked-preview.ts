import type { previewSchema } from '../../contract';
import { sql } from 'kysely';
import type { z } from 'zod';
import { givenOnce, unlike, workOut } from '../../core/records/worked';
import { isSecret, type Column } from '../../core/records/columns';
import { dots } from '../../core/records/sealed';
import { type Database, workedWithSealedKey } from '../platform';
import { withLookedUpSecrets } from './looked-up';
import { workingContext } from './working';

/** Replaces a result that is made from a secret. */
const maskedResult = dots;

/** Longer lists are looked at in a sample spread evenly over them. */
const most = 3000;

/**
 * What a worked column yields for the selected record and for the five records of the list that
 * differ most from it.
 */
export async function previewWorked(
  db: Database,
  listId: number,
  { worked, id, record }: z.infer<typeof previewSchema>,
): Promise<{ rows: { number: number; result: string }[] }> {
  const { of } = await db
    .selectFrom('records')
    .select((e) => e.fn.countAll<number>().as('of'))
    .where('list_id', '=', listId)
    .executeTakeFirstOrThrow();
  const step = Math.max(1, Math.ceil(of / most));
  const records = await db
    .selectFrom('records')
    .select(['id', 'position', 'values'])
    .where('list_id', '=', listId)
    .where((e) => e.or([sql<boolean>`position % ${step} = 0`, e('id', '=', record)]))
    .orderBy('position')
    .execute();
  const { columns } = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  const [tried] = await withLookedUpSecrets(db, [
    { id, name: '', role: 'text', worked: workedWithSealedKey(worked) } satisfies Column,
  ]);
  if (!tried) throw new Error('a column that is tried is there');
  const context = {
    ...(await workingContext(db, listId, [tried])),
    secret: (length: number) => '·'.repeat(length),
    address: () => '·'.repeat(8),
  };
  const made = records.map((r) => ({
    id: r.id,
    number: r.position + 1,
    result:
      isSecret(tried, [...columns.filter((c) => c.id !== id), tried]) && !givenOnce(worked.source)
        ? maskedResult
        : workOut(worked, r.values, givenOnce(worked.source) ? '' : (r.values[id] ?? ''), {
            ...context,
            position: r.position,
          }),
  }));
  const hand = made.find((m) => m.id === record);
  return {
    rows: [
      ...(hand ? [hand] : []),
      ...unlike(
        made.filter((m) => m.id !== record),
        (m) => m.result,
      ),
    ].map(({ number, result }) => ({ number, result })),
  };
}
