import { sql } from 'kysely';
import type { SaidSame } from '../../../contract';
import type { Database, Intakes } from '../../platform';

/**
 * Holds an intake until the transaction ends, if it is still in the state that the work on it
 * begins from: of two that do the same work at once, the second finds it done.
 */
export async function holdIntake(
  tx: Database,
  id: number,
  state: Intakes['state'],
): Promise<boolean> {
  const found = await tx
    .selectFrom('intakes')
    .select('state')
    .where('id', '=', id)
    .forUpdate()
    .executeTakeFirst();
  return found?.state === state;
}

/**
 * Adds to what a person declares to be the same, also while a comparison runs: that comparison is
 * then out of date, and is dropped. False if the update has been applied or discarded.
 */
export async function sayTheSame(tx: Database, id: number, said: SaidSame): Promise<boolean> {
  const found = await tx
    .selectFrom('intakes')
    .select(['state', 'list_id', 'same'])
    .where('id', '=', id)
    .forUpdate()
    .executeTakeFirst();
  if (!found || found.list_id === null || (found.state !== 'read' && found.state !== 'waiting'))
    return false;
  const same: SaidSame = {
    headings: { ...found.same?.headings, ...said.headings },
    keys: said.keys || (found.same?.keys ?? false),
  };
  await tx
    .updateTable('intakes')
    .set({ state: 'waiting', same: JSON.stringify(same), error: null })
    .where('id', '=', id)
    .execute();
  return true;
}

const partSize = 1024 * 1024;

/**
 * The bytes of an intake, read part by part: in one answer, a file of 33 MB takes 400 MB, as
 * hexadecimal digits and in growing buffers.
 * @param db no transaction: the parts are consistent by a transaction of their own
 * @returns no bytes if the intake or its bytes were deleted
 */
export function bytesOfIntake(db: Database, id: number): Promise<Buffer> {
  return db
    .transaction()
    .setIsolationLevel('repeatable read')
    .execute(async (tx) => {
      const found = await tx
        .selectFrom('intakes')
        .select(sql<number>`length(bytes)`.as('size'))
        .where('id', '=', id)
        .executeTakeFirst();
      const whole = Buffer.alloc(found?.size ?? 0);
      for (let at = 0; at < whole.length; at += partSize) {
        const { part } = await tx
          .selectFrom('intakes')
          .select(sql<Buffer>`substring(bytes from ${at + 1}::int for ${partSize}::int)`.as('part'))
          .where('id', '=', id)
          .executeTakeFirstOrThrow();
        part.copy(whole, at);
      }
      return whole;
    });
}

/** Stores why an intake failed, unless it has succeeded in the meantime. */
export async function failIntake(db: Database, id: number, error: string): Promise<void> {
  await db
    .updateTable('intakes')
    .set({ state: 'failed', error })
    .where('id', '=', id)
    .where('state', 'in', ['waiting', 'taking'])
    .execute();
}
