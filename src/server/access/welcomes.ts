import type { Database } from '../platform';

/** Addresses that were sent to someone before let nobody in any more. */
export async function withoutWelcomes(db: Database, person: string): Promise<void> {
  await db.deleteFrom('welcomes').where('person_id', '=', person).execute();
}
