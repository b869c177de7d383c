import type { Database, Intakes } from '../../platform';

/**
 * Holds an intake until the transaction ends, if it is still in the state that the work on it begins from: of two that do the same
 * work at once, the second finds it done.
 */
export async function holdIntake(tx: Database, id: number, state: Intakes['state']): Promise<boolean> {
  const found = await tx.selectFrom('intakes').select('state').where('id', '=', id).forUpdate().executeTakeFirst();
  return found?.state === state;
}

/** Says why an intake came to nothing, unless it has come to something meanwhile. */
export async function failIntake(db: Database, id: number, error: string): Promise<void> {
  await db
    .updateTable('intakes')
    .set({ state: 'failed', error })
    .where('id', '=', id)
    .where('state', 'in', ['waiting', 'taking'])
    .execute();
}
