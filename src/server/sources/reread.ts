import { readIntakeCard } from './cards';
import { type Origin, readsItself } from '../../core/job/sources';
import { checkRoom, type Database, enqueue, Refusal } from '../platform';

/**
 * Reads a list's source again, in a worker; the result waits for review. Returns the number of the
 * intake.
 */
export async function readAgain(db: Database, listId: number, actor: string): Promise<number> {
  const { origin, source } = await db
    .selectFrom('lists')
    .select(['origin', 'source'])
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  if (!origin || !readsItself(origin))
    throw new Refusal(
      'This list comes from a file of your own. Choose the file again to update it.',
    );
  return askIntake(db, { name: source, bytes: Buffer.alloc(0), origin, list: listId, actor });
}

export interface NewIntake {
  name: string;
  bytes: Buffer;
  origin: Origin;
  /** The list to compare with, for an update. */
  list?: number;
  actor: string;
}

/** Puts something to be read into the queue. A re-read that waited before it is set aside. */
export async function askIntake(
  db: Database,
  { name, bytes, origin, list, actor }: NewIntake,
): Promise<number> {
  await checkRoom(db);
  return db.transaction().execute(async (tx) => {
    if (list !== undefined)
      await tx
        .deleteFrom('intakes')
        .where('list_id', '=', list)
        .where('state', 'in', ['waiting', 'read', 'failed'])
        .execute();
    const { id } = await tx
      .insertInto('intakes')
      .values({
        file_name: name,
        bytes,
        state: 'waiting',
        origin: JSON.stringify(origin),
        list_id: list ?? null,
        created_by: actor,
      })
      .returning('id')
      .executeTakeFirstOrThrow();
    await enqueue(tx, readIntakeCard, { intake: id });
    return id;
  });
}
