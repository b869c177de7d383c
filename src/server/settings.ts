import { z } from 'zod';
import type { Database } from './db';

/** What can be set for the whole of Hand Stamp. */
export const settingsSchema = z.object({
  /** Addresses of this machine and of private networks may be asked by the door check. */
  doorPrivate: z.boolean(),
});
export type SettingsView = z.infer<typeof settingsSchema>;

export async function readSettings(db: Database): Promise<SettingsView> {
  const row = await db.selectFrom('settings').select('value').where('name', '=', 'door.private').executeTakeFirst();
  return { doorPrivate: row?.value === 'yes' };
}

export async function writeSettings(db: Database, { doorPrivate }: SettingsView): Promise<void> {
  const value = doorPrivate ? 'yes' : 'no';
  await db
    .insertInto('settings')
    .values({ name: 'door.private', value })
    .onConflict((c) => c.column('name').doUpdateSet({ value }))
    .execute();
}
