import { type FetchedPictures } from '../../contract';
import { pictureOf } from '../../core/drawing/pixels';
import type { KeptPicture, Picture } from '../../core/drawing/picture';
import type { PictureOf } from '../../core/piece/piece';
import { pictureNameOf, type Piece } from '../../core/piece/model';
import type { Values } from '../../core/records/columns';
import { pictureKey } from '../../core/records/picture-key';
import { askOptions, askPicture, type Database, redrawnPicture, Refusal } from '../platform';
import { sql } from 'kysely';

/** Longer side of a picture on a piece, in pixels: 60 mm at 300 dpi. */
const longest = 720;

/** Stores a picture for the records of a list whose column names it. */
export async function keepListPicture(
  db: Database,
  listId: number,
  name: string,
  bytes: Buffer,
): Promise<void> {
  const key = pictureKey(name);
  if (key === '') throw new Refusal('The picture has no file name. Give it one and try again.');
  const picture = JSON.stringify(await redrawnPicture(name, bytes, longest));
  await db
    .insertInto('list_pictures')
    .values({ list_id: listId, name: key, picture })
    .onConflict((c) => c.columns(['list_id', 'name']).doUpdateSet({ picture }))
    .execute();
}

/** Names under which the pictures are kept that the pieces of some records want. */
function pictureKeys(piece: Piece, records: readonly Values[]): string[] {
  const elements = piece.elements.filter((e) => e.kind === 'picture');
  return [
    ...new Set(
      records
        .flatMap((values) => elements.flatMap((e) => pictureNameOf(e, values) || []))
        .map(pictureKey),
    ),
  ];
}

/**
 * Copies the pictures of a run's records to the run, so that later changes of the list do not reach
 * them.
 */
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
    select ${runId}::int, name, picture from list_pictures
      where list_id = ${listId} and name = any(${keys}::text[])`.execute(db);
}

const byName = (rows: readonly { name: string; picture: KeptPicture }[]): PictureOf => {
  const held = new Map(rows.map((r) => [r.name, pictureOf(r.picture)]));
  return (name) => held.get(pictureKey(name));
};

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
  return byName(rows);
}

/** The pictures of a list as they are now that the piece of a record wants, by name. */
export async function picturesNow(
  db: Database,
  listId: number,
  piece: Piece,
  values: Values,
): Promise<PictureOf> {
  const keys = pictureKeys(piece, [values]);
  if (keys.length === 0) return () => undefined;
  const rows = await db
    .selectFrom('list_pictures')
    .select(['name', 'picture'])
    .where('list_id', '=', listId)
    .where(sql<boolean>`name = any(${keys}::text[])`)
    .execute();
  return byName(rows);
}

/** The pictures frozen with a run, one after the other. */
export async function* frozenPictures(
  db: Database,
  runId: number,
): AsyncGenerator<{ key: string; picture: Picture }> {
  for (let after = ''; ;) {
    const rows = await db
      .selectFrom('run_pictures')
      .select(['name', 'picture'])
      .where('run_id', '=', runId)
      .where('name', '>', after)
      .orderBy('name')
      .limit(20)
      .execute();
    for (const { name, picture } of rows) yield { key: name, picture: pictureOf(picture) };
    if (rows.length < 20) return;
    after = rows.at(-1)!.name;
  }
}

/** One of the pictures frozen with a run. */
export async function frozenPicture(db: Database, runId: number, key: string): Promise<Picture> {
  const { picture } = await db
    .selectFrom('run_pictures')
    .select('picture')
    .where('run_id', '=', runId)
    .where('name', '=', key)
    .executeTakeFirstOrThrow();
  return pictureOf(picture);
}

/**
 * How many pictures are downloaded at a time, and how long one request goes on, in ms. The rest
 * needs another request.
 */
const [fetchedAtOnce, fetchedFor] = [6, 15_000];

/**
 * Downloads the pictures whose addresses are in a column and that are not stored yet: in the order
 * of the addresses, several at a time, and no longer than one request should take.
 * @param after the address after which to go on
 */
export async function fetchPictures(
  db: Database,
  listId: number,
  column: string,
  after = '',
): Promise<FetchedPictures> {
  const { rows } = await sql<{ address: string }>`
    select distinct trim(values->>${column}) collate "C" as address from records
    where list_id = ${listId}
      and values->>${column} ~* '^\\s*https?://' and trim(values->>${column}) collate "C" > ${after}
    order by 1`.execute(db);
  const kept = await db
    .selectFrom('list_pictures')
    .select('name')
    .where('list_id', '=', listId)
    .execute();
  const known = new Set(kept.map((r) => r.name));
  const wanted = rows.map((r) => r.address).filter((address) => !known.has(pictureKey(address)));
  const options = await askOptions(db);
  const told: FetchedPictures = { kept: 0, failed: [], next: null, left: 0 };
  const until = performance.now() + fetchedFor;
  let at = 0;
  while (at < wanted.length && performance.now() < until) {
    const some = wanted.slice(at, at + fetchedAtOnce);
    await Promise.all(
      some.map(async (address) => {
        try {
          await keepListPicture(db, listId, address, await askPicture(address, options));
          told.kept++;
        } catch (error) {
          told.failed.push({
            address,
            reason: error instanceof Error ? error.message : 'it could not be downloaded',
          });
        }
      }),
    );
    at += some.length;
  }
  return { ...told, next: at < wanted.length ? wanted[at - 1]! : null, left: wanted.length - at };
}

export async function pictureNames(db: Database, listId: number): Promise<string[]> {
  const rows = await db
    .selectFrom('list_pictures')
    .select('name')
    .where('list_id', '=', listId)
    .orderBy('name')
    .execute();
  return rows.map((row) => row.name);
}

export async function listPicture(
  db: Database,
  listId: number,
  name: string,
): Promise<KeptPicture | undefined> {
  const row = await db
    .selectFrom('list_pictures')
    .select('picture')
    .where('list_id', '=', listId)
    .where('name', '=', pictureKey(name))
    .executeTakeFirst();
  return row?.picture;
}
