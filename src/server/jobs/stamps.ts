import type { Stamp } from '../../core/payload/stamp';
import type { Column } from '../../core/records/columns';
import { type Database, Refusal } from '../platform';

/** A stamp of a job's list. @throws Refusal when it is gone */
export async function stampOf(
  db: Database,
  jobId: number,
  stampId: string,
): Promise<{ stamp: Stamp; listId: number; columns: Column[] }> {
  const list = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select(['lists.id', 'lists.stamps', 'lists.columns'])
    .where('jobs.id', '=', jobId)
    .executeTakeFirstOrThrow();
  const stamp = list.stamps.find((s) => s.id === stampId);
  if (!stamp) throw new Refusal('This stamp no longer exists. It may have been deleted.', 404);
  return { stamp, listId: list.id, columns: list.columns };
}
