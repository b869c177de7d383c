import { pictureOf } from '../../core/drawing/picture';
import { pictureNameOf, type Piece, type PictureOf } from '../../core/piece/piece';
import type { Values } from '../../core/records/columns';
import { pictureKey } from '../../core/records/picture-key';
import { askOptions, askPicture, type Database, redrawnPicture, Refusal } from '../platform';
import { sql } from 'kysely';

/** Longer side of a picture on a piece, in pixels: 60 mm at 300 dpi. */
const longest = 720;

/** Keeps a picture for the records of a list whose column names it. */
export async function keepListPicture(
  db: Database,
  listId: number,
  name: string,
  bytes: Buffer,
): Promise<void> {
  const key = pictureKey(name);
  if (key === '') throw new Refusal('The picture has no name.');
  const picture = JSON.stringify(await redrawnPicture(name, bytes, longest));
  await db
    .insertInto('list_pictures')
    .values({ list_id: listId, name: key, picture })
    .onConflict((c) => c.columns(['list_id', 'name']).doUpdateSet({ picture }))
    .execute();
}

/** Names under which the pictures are kept that the pieces of some records want. */
export function pictureKeys(piece: Piece, records: readonly Values[]): string[] {
  const elements = piece.elements.filter((e) => e.kind === 'picture');
  return [
    ...new Set(
      records
        .flatMap((values) => elements.flatMap((e) => pictureNameOf(e, values) || []))
        .map(pictureKey),
    ),
  ];
}

/** Copies the pictures that a run's records want to the run, where a later change of the list's does not reach them. */
export async function freezePictures(
  db: Database,
  runId: number,
  listId: number,
  piece: Piece,
): Promise<void> {
  if (!piece.elements.some((e) => e.kind === 'picture' && e.column !== undefined)) return;
  const items = await db
    .selectFrom('run_items')
    .select('values')
    .where('run_id', '=', runId)
    .execute();
  const keys = pictureKeys(
    piece,
    items.map((i) => i.values),
  );
  await sql`insert into run_pictures (run_id, name, picture)
    select ${runId}::int, name, picture from list_pictures where list_id = ${listId} and name = any(${keys}::text[])`.execute(
    db,
  );
}

/** The pictures frozen with a run that the pieces of some of its records want, by name. */
export async function picturesFor(
  db: Database,
  runId: number,
  piece: Piece,
  records: readonly Values[],
): Promise<PictureOf> {
  const keys = pictureKeys(piece, records);
  if (keys.length === 0) return () => undefined;
  const rows = await db
    .selectFrom('run_pictures')
    .select(['name', 'picture'])
    .where('run_id', '=', runId)
    .where(sql<boolean>`name = any(${keys}::text[])`)
    .execute();
  const held = new Map(rows.map((r) => [r.name, pictureOf(r.picture)]));
  return (name) => held.get(pictureKey(name));
}

/** Fetches the pictures whose addresses stand in a column, those that are not kept yet. Returns how many came and which did not. */
export async function fetchPictures(
  db: Database,
  listId: number,
  column: string,
): Promise<{ kept: number; failed: { address: string; reason: string }[] }> {
  const rows = await db
    .selectFrom('records')
    .select(sql<string>`distinct trim(values->>${column})`.as('address'))
    .where('list_id', '=', listId)
    .where(sql<boolean>`values->>${column} ~* '^\\s*https?://'`)
    .limit(2000)
    .execute();
  const known = new Set(
    (
      await db.selectFrom('list_pictures').select('name').where('list_id', '=', listId).execute()
    ).map((r) => r.name),
  );
  const options = await askOptions(db);
  let kept = 0;
  const failed: { address: string; reason: string }[] = [];
  for (const { address } of rows) {
    if (known.has(pictureKey(address))) continue;
    try {
      await keepListPicture(db, listId, address, await askPicture(address, options));
      kept++;
    } catch (error) {
      failed.push({ address, reason: error instanceof Error ? error.message : 'it did not come' });
    }
  }
  return { kept, failed };
}
