import type { Column } from '../../../core/records/columns';
import type { Database } from '.';

/** Columns of a list as they are now; none if the list is not there. */
export async function columnsOf(db: Database, list: number): Promise<readonly Column[]> {
  const found = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', list)
    .executeTakeFirst();
  return found?.columns ?? [];
}
