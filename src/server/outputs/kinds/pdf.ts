import { fontBook, deflate, type Database } from '../../platform';
import { frozenPicture, frozenPictures } from '../../lists';
import type { OutputMaker, RunToAssemble } from '../maker';
import {
  assemblePdf,
  pictureName,
  picturesIn,
  type GlyphUse,
  type NamedPicture,
  type PictureUse,
} from '../../../core/artwork/pdf';
import { artItems, symbolArt } from '../../../core/artwork/symbol-art';
import type { FrozenRun } from '../../../core/job/document';
import { pictureOf } from '../../../core/drawing/pixels';
import { stockOf } from '../../../core/piece/stock';
import { markMargin } from '../../../core/run/plan';
import { encode, usualSymbology } from '../../../core/symbology';

/** Sheets for print. The chunks of the run have drawn their contents and read them back. */
export const pdf: OutputMaker = {
  assemble: async (run) => ({ ending: '.pdf', mime: 'application/pdf', bytes: await sheets(run) }),
};

async function sheets({
  db,
  runId,
  frozen,
  title,
}: RunToAssemble): Promise<AsyncGenerator<Uint8Array>> {
  const stock = stockOf(frozen.piece);
  const used = await glyphsOf(db, runId);
  const margin = frozen.options.marks ? markMargin : 0;
  const info = {
    title,
    pageWidthMm: stock.page.width + 2 * margin,
    pageHeightMm: stock.page.height + 2 * margin,
    date: new Date(frozen.date),
    ...(margin ? { trimMm: { margin, bleed: stock.bleed ?? 0 } } : {}),
  };
  return assemblePdf(
    storedPages(db, runId),
    used,
    fontBook(used.keys()),
    info,
    deflate,
    picturesOf(db, runId, frozen),
  );
}

/**
 * The pictures of a run in the order of their names: those of its looks, the same in every code;
 * those fixed on its piece; and those of its records, which may be thousands, so only one is in
 * memory at a time.
 */
async function* picturesOf(
  db: Database,
  runId: number,
  { stamps, piece }: FrozenRun,
): AsyncGenerator<NamedPicture> {
  const fixed: PictureUse = new Map();
  for (const stamp of stamps)
    if (stamp.look.logo || stamp.look.behind)
      for (const turn of [0, 90, 180, 270] as const)
        picturesIn(
          artItems(
            symbolArt(encode(usualSymbology, 'any'), {
              ...stamp.look,
              turn: turn === 0 ? undefined : turn,
            }),
            0,
            0,
            1,
          ),
          fixed,
        );
  for (const element of piece.elements)
    if (element.kind === 'picture' && element.picture) {
      const picture = pictureOf(element.picture);
      fixed.set(pictureName(picture), picture);
    }
  const ofRecords = new Map<string, string>();
  for await (const { key, picture } of frozenPictures(db, runId))
    ofRecords.set(pictureName(picture), key);
  for (const name of [...new Set([...fixed.keys(), ...ofRecords.keys()])].sort())
    yield [name, fixed.get(name) ?? (await frozenPicture(db, runId, ofRecords.get(name)!))];
}

async function glyphsOf(db: Database, runId: number): Promise<GlyphUse> {
  const chunks = await db
    .selectFrom('run_chunks')
    .select('glyphs')
    .where('run_id', '=', runId)
    .orderBy('number')
    .execute();
  const used: GlyphUse = new Map();
  for (const { glyphs } of chunks)
    for (const [font, pairs] of glyphs ?? []) {
      const map = used.get(font) ?? new Map<number, string>();
      used.set(font, map);
      for (const [id, text] of pairs) if (!map.has(id)) map.set(id, text);
    }
  return used;
}

async function* storedPages(db: Database, runId: number): AsyncGenerator<Uint8Array> {
  const batch = 32;
  for (let from = 0; ; from += batch) {
    const pages = await db
      .selectFrom('run_pages')
      .select('content')
      .where('run_id', '=', runId)
      .where('page', '>=', from)
      .where('page', '<', from + batch)
      .orderBy('page')
      .execute();
    for (const { content } of pages) yield content;
    if (pages.length < batch) return;
  }
}
