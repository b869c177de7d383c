import { counted } from '../../core/base/words';
import { keptKinds, keptWords } from '../../core/job/retention';
import type { AskOptions } from './outbound';
import type { SettingsView, SettingsChange } from '../../contract';
import type { Database } from './db';
import { readKept, writeKept } from './retention';

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
  if (doorPrivate === undefined) return;
  const value = doorPrivate ? 'yes' : 'no';
  await db
    .insertInto('settings')
    .values({ name: 'door.private', value })
    .onConflict((c) => c.column('name').doUpdateSet({ value }))
    .execute();
}

/** The settings in words, for the journal. */
export const settingsInWords = ({ doorPrivate, kept, wholeGb }: SettingsChange): string =>
  [
    ...(doorPrivate === undefined
      ? []
      : [doorPrivate ? 'also servers in our own network' : 'public servers only']),
    ...keptKinds.flatMap((kind) =>
      kept[kind] === undefined
        ? []
        : [
            `${keptWords[kind].name}: kept ${kept[kind] === 0 ? 'without limit' : `for ${counted(kept[kind], 'day')}`}`,
          ],
    ),
    ...(wholeGb === undefined ? [] : [`up to ${wholeGb} GB`]),
  ].join('; ');

/** Address of the stand-in for another program, if there is one. */
export async function standInProgram(db: Database): Promise<string | null> {
  const row = await db
    .selectFrom('settings')
    .select('value')
    .where('name', '=', 'stand-in.app')
    .executeTakeFirst();
  return row?.value ?? null;
}

/** Which addresses may be contacted, and which ports of this computer stand in for hosts. */
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

/** A mark of databases that hold the demo. */
export const demoMark = (db: Database) =>
  db.selectFrom('settings').select('name').where('name', '=', 'demo').where('value', '=', 'loaded');

/** Whether this is the demo. Its stand-ins may do what devices of real installations may not. */
export const isDemo = async (db: Database): Promise<boolean> =>
  (await demoMark(db).executeTakeFirst()) !== undefined;
