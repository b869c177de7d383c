import type { OrderChoices } from '../../contract';
import type { Order } from '../../core/orders/order';
import { namesOf, type Names } from '../../core/orders/says';
import { outputsOn } from '../../core/run/outputs';
import type { GroundKind } from '../../core/piece/ground';
import { sql } from 'kysely';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { type Database, outFolderName, printedFolderName } from '../platform';
import { trayFolder } from '../sources';

/** What sentences can speak of. */
export const orderChoices = async (db: Database): Promise<OrderChoices> => ({
  ...(await spokenOf(db)),
  folders: await trayFolders(),
});

/**
 * The same without what is on the disk. Only the names of jobs and stamps are loaded: there may be
 * pictures in them.
 */
async function spokenOf(db: Database): Promise<Omit<OrderChoices, 'folders'>> {
  const lists = await db
    .selectFrom('lists')
    .select(['id', 'name', 'columns'])
    .select(
      sql<{ id: string; name: string }[]>`(
        select coalesce(json_agg(json_build_object('id', s->>'id', 'name', s->>'name')), '[]')
        from json_array_elements(lists.stamps::json) s)`.as('stamps'),
    )
    .orderBy('name')
    .execute();
  const jobs = await db
    .selectFrom('jobs')
    .select(['id', 'name', 'list_id'])
    .select(sql<GroundKind | null>`document->'piece'->'ground'->>'kind'`.as('ground'))
    .orderBy('name')
    .execute();
  return {
    lists: lists.map(({ id, name, columns }) => ({ id, name, columns })),
    jobs: jobs.map(({ id, name, list_id, ground }) => ({
      id,
      name,
      list: list_id,
      outputs: outputsOn(ground ?? 'stock').map(({ id: kind, name: as, sheets }) => ({
        kind,
        name: as,
        sheets: sheets ?? false,
      })),
      pdfs: ground === 'pdfs',
      stamps: lists.find((l) => l.id === list_id)?.stamps ?? [],
    })),
    printers: await db.selectFrom('printers').select(['id', 'name']).orderBy('name').execute(),
    checkpoints: await db
      .selectFrom('checkpoints')
      .select(['id', 'name'])
      .orderBy('name')
      .execute(),
  };
}

async function trayFolders(): Promise<string[] | null> {
  const tray = trayFolder();
  if (!tray) return null;
  const found: string[] = [];
  const walk = async (at: string, path: string): Promise<void> => {
    const entries = await readdir(/* turbopackIgnore: true */ at, { withFileTypes: true }).catch(
      () => [],
    );
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const own = path === '' ? entry.name : `${path}/${entry.name}`;
      if (
        !entry.isDirectory() ||
        entry.name.startsWith('.') ||
        own === outFolderName ||
        own === printedFolderName ||
        found.length >= 200
      )
        continue;
      found.push(own);
      if (own.split('/').length < 3)
        await walk(join(/* turbopackIgnore: true */ at, entry.name), own);
    }
  };
  await walk(tray, '');
  return found;
}

/** How things are called, for the sentences of many orders. */
export async function namesFor(
  db: Database,
): Promise<(order: Pick<Order, 'when' | 'steps'>) => Names> {
  const spoken = await spokenOf(db);
  return (order) => namesOf(spoken, order);
}
