import { z } from 'zod';
import { keptForDays, keptKinds, wholeGb } from '../../core/job/retention';
import type { AskOptions } from './outbound';
import type { Database } from './db';
import { readKept, writeKept, type Kept } from './retention';

/** What can be set for the whole of Hand Stamp. */
export const settingsSchema = z.object({
  /** Addresses of this machine and of private networks may be asked by the door check. */
  doorPrivate: z.boolean(),
  /** Days for which each kind is kept. */
  kept: z.partialRecord(z.enum(keptKinds), z.literal([...keptForDays])).default({}),
  wholeGb: z
    .number()
    .int()
    .min(wholeGb.least, 'Allow 1 GB at least.')
    .max(wholeGb.most, `Allow ${wholeGb.most} GB at most.`)
    .optional(),
});
export type SettingsChange = z.infer<typeof settingsSchema>;
export interface SettingsView extends Kept {
  doorPrivate: boolean;
}

export async function readSettings(db: Database): Promise<SettingsView> {
  const row = await db
    .selectFrom('settings')
    .select('value')
    .where('name', '=', 'door.private')
    .executeTakeFirst();
  return { doorPrivate: row?.value === 'yes', ...(await readKept(db)) };
}

export async function writeSettings(
  db: Database,
  { doorPrivate, kept, wholeGb: gb }: SettingsChange,
): Promise<void> {
  await writeKept(db, kept, gb);
  const value = doorPrivate ? 'yes' : 'no';
  await db
    .insertInto('settings')
    .values({ name: 'door.private', value })
    .onConflict((c) => c.column('name').doUpdateSet({ value }))
    .execute();
}

/** What may be asked over the network, and which ports of this machine stand in for hosts. */
export async function askOptions(db: Database): Promise<AskOptions> {
  const rows = await db
    .selectFrom('settings')
    .selectAll()
    .where('name', 'in', ['door.private', 'door.stand-ins'])
    .execute();
  const value = (name: string) => rows.find((r) => r.name === name)?.value;
  return {
    privateToo: value('door.private') === 'yes',
    standIns: JSON.parse(value('door.stand-ins') ?? '{}') as Record<string, number>,
  };
}
