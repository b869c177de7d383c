import {
  assemblePdf,
  inOrder,
  pageContent,
  type GlyphUse,
  type PictureUse,
} from '../../../core/artwork/pdf';
import type { FrozenRun } from '../../../core/job/document';
import { makePiece } from '../../../core/piece/piece';
import { sidesOf } from '../../../core/piece/model';
import { stockOf } from '../../../core/piece/stock';
import { readBack } from '../../../core/readback/readback';
import { clippedPiece } from '../../../core/run/plan';
import { deflate } from '../../platform';
import type { MadeCode, MadeRecord, OutputMaker, RecordToMake } from '../maker';
import { zipOfRun } from '../zip';

export const pdfEach: OutputMaker = {
  perRecord: piecePdf,
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};

async function piecePdf(
  frozen: FrozenRun,
  { name, values, fonts, pictures: pictureOf }: RecordToMake,
): Promise<MadeRecord> {
  const stock = stockOf(frozen.piece);
  const used: GlyphUse = new Map();
  const pictures: PictureUse = new Map();
  const codes: MadeCode[] = [];
  const pages: Uint8Array[] = [];
  for (const side of sidesOf(frozen.piece)) {
    const made = makePiece(frozen.piece, stock, frozen.stamps, values, fonts, {
      side,
      pictures: pictureOf,
    });
    const items = [clippedPiece(stock, made.items, { x: 0, y: 0 })];
    const drawing = { widthMm: stock.piece.width, heightMm: stock.piece.height, items };
    pages.push(deflate(pageContent(drawing, fonts, used, pictures)));
    for (const code of made.codes) {
      const back = await readBack(items, code, fonts);
      codes.push({
        stamp: code.stamp,
        payload: String(code.symbol.payload),
        result: back.result,
        read: back.result === 'unread' ? null : back.text,
      });
    }
  }
  const info = {
    title: name,
    pageWidthMm: stock.piece.width,
    pageHeightMm: stock.piece.height,
    date: new Date(frozen.date),
  };
  const whole: Uint8Array[] = [];
  for await (const part of assemblePdf(pages, used, fonts, info, deflate, inOrder(pictures)))
    whole.push(Uint8Array.from(part));
  return { parts: [{ name: `${name}.pdf`, bytes: new Uint8Array(Buffer.concat(whole)) }], codes };
}
