import { counted } from '../../core/base/words';
import { type Database, oneOf, Refusal } from '../platform';

/**
 * Makes sure that the named records do not belong to another list. Records that are in no list any
 * more are left to the caller: they were removed in the meantime.
 * @throws Refusal 404
 */
export async function checkOwnRecords(
  db: Database,
  list: number,
  ids: readonly number[],
): Promise<void> {
  const foreign = await db
    .selectFrom('records')
    .select('id')
    .where(oneOf('id', ids))
    .where('list_id', '!=', list)
    .limit(1)
    .executeTakeFirst();
  if (foreign)
    throw new Refusal(
      `Record ${foreign.id} is not in this list. Nothing was changed; choose the records again.`,
      404,
    );
}

/** The same, and all of them are there. @throws Refusal 404 */
export async function checkAllThere(
  db: Database,
  list: number,
  ids: readonly number[],
): Promise<void> {
  const rows = await db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', list)
    .where(oneOf('id', ids))
    .execute();
  const there = new Set(rows.map((row) => row.id));
  const missing = [...new Set(ids)].filter((id) => !there.has(id));
  if (missing.length > 0)
    throw new Refusal(
      `${counted(missing.length, 'record is', 'records are')} not in this list, the first of them ${missing[0]}. Nothing was done.`,
      404,
    );
}
