import type { SheetOnPaper } from '../../contract';
import { readRun } from '../../core/job/document';
import { sidesOf } from '../../core/piece/model';
import { placeOnStock, stockOf } from '../../core/piece/stock';
import { markMargin } from '../../core/run/plan';
import { type Database, Refusal } from '../platform';

/**
 * A printed page of a run, and what pictures of it show at every seat. Lengths in mm. @throws
 * Refusal if there is no such page
 */
export async function paperSheet(db: Database, id: number, page: number): Promise<SheetOnPaper> {
  const run = await db
    .selectFrom('runs')
    .select(['frozen', 'sheets'])
    .where('id', '=', id)
    .executeTakeFirst();
  const lines = await db
    .selectFrom('receipts')
    .select(['place', 'stamp', 'record_id', 'title', 'paper_at'])
    .where('run_id', '=', id)
    .where('page', '=', page)
    .orderBy('place')
    .execute();
  if (!run || run.sheets === 0 || lines.length === 0)
    throw new Refusal('This page of the run does not exist. Reload the page.', 404);
  const pictures = await db
    .selectFrom('paper_pictures')
    .select(['pages', 'marks'])
    .where('run_id', '=', id)
    .orderBy('id', 'desc')
    .execute();
  // of several pictures of a page the latest says how it is
  const marks = pictures.find((picture) => picture.pages.includes(page))?.marks;
  const misplaced = new Set(
    marks?.misplaced.filter((one) => one.page === page).map((one) => one.place),
  );
  const { piece, options } = readRun(run.frozen);
  const stock = stockOf(piece);
  const margin = options.marks ? markMargin : 0;
  const sides = sidesOf(piece);
  const back = sides[(page - 1) % sides.length] === 'back';
  const seen = lines.some((line) => line.paper_at !== null);
  const places = new Map<number, SheetOnPaper['places'][number]>();
  for (const { place, record_id, title, paper_at } of lines) {
    const at = placeOnStock(stock, place - 1, 1, options.order);
    const before = places.get(place);
    // a piece with several codes is as its worst
    const is = !seen
      ? null
      : misplaced.has(place)
        ? 'misplaced'
        : paper_at === null || before?.is === 'not-read'
          ? 'not-read'
          : 'read';
    const x = back ? stock.page.width - at.x - stock.piece.width : at.x;
    places.set(place, {
      place,
      x: x + margin,
      y: at.y + margin,
      record: record_id,
      title,
      is,
    });
  }
  return {
    page,
    width: stock.page.width + 2 * margin,
    height: stock.page.height + 2 * margin,
    piece: { width: stock.piece.width, height: stock.piece.height },
    places: [...places.values()],
    others: (marks?.others ?? [])
      .filter((one) => one.page === page)
      .map(({ x, y }) => ({ x: x + margin, y: y + margin })),
  };
}
