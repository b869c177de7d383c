import type { Database } from '../platform';

/** Earlier links for a person stop working. */
export async function withoutWelcomes(db: Database, person: string): Promise<void> {
  await db.deleteFrom('welcomes').where('person_id', '=', person).execute();
}
