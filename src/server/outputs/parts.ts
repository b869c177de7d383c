import {
  assemblePdf,
  inOrder,
  pageContent,
  type GlyphUse,
  type PictureUse,
} from '../../core/artwork/pdf';
import type { FrozenRun } from '../../core/job/document';
import type { Stamp } from '../../core/payload/stamp';
import type { FontBook } from '../../core/artwork/fonts';
import { makePiece, sidesOf, type PictureOf } from '../../core/piece/piece';
import { stockOf } from '../../core/piece/stock';
import { readBack } from '../../core/readback/readback';
import type { Values } from '../../core/records/columns';
import type { ImageFormat } from '../../core/run/outputs';
import { safeName } from '../../core/run/names';
import { clippedPiece } from '../../core/run/plan';
import { codeFile } from './codes';
import { deflate } from '../platform';

export interface MadePart {
  name: string;
  bytes: Uint8Array;
}
export interface MadeCode {
  stamp: string;
  payload: string;
  result: 'read' | 'differs' | 'unread';
  read: string | null;
}

/** What one record gets in a run that makes no sheets: its files and the codes in them. */
export async function makeParts(
  frozen: FrozenRun,
  item: { seq: number; name: string | null; values: Values },
  fonts: FontBook,
  pictures: PictureOf,
): Promise<{ parts: MadePart[]; codes: MadeCode[] }> {
  const output = frozen.output!;
  const name = item.name ?? `record-${item.seq + 1}`;
  if (output.kind === 'csv') return { parts: [], codes: [] };
  if (output.kind === 'pdf-each') return piecePdf(frozen, name, item.values, fonts, pictures);
  const format: ImageFormat =
    output.kind === 'images' ? (output.format ?? 'png') : output.kind === 'html' ? 'svg' : 'png';
  const parts: MadePart[] = [];
  const codes: MadeCode[] = [];
  for (const stamp of frozen.stamps) {
    const look = {
      ...stamp.look,
      ...(output.sizeMm ? { sizeMm: output.sizeMm, moduleDots: undefined } : {}),
      ...(output.dpi ? { dpi: output.dpi } : {}),
    };
    const made = await codeFile({ ...stamp, look }, item.values, format);
    if (!made) continue;
    parts.push({
      name: `${fileOf(name, stamp, frozen.stamps)}.${format === 'jpeg' ? 'jpg' : format}`,
      bytes: made.bytes,
    });
    codes.push({
      stamp: stamp.id,
      payload: made.payload,
      result: made.back.result,
      read: made.back.result === 'unread' ? null : made.back.text,
    });
  }
  return { parts, codes };
}

/** With several stamps, each has its name in that of the file. */
export const fileOf = (name: string, stamp: Stamp, stamps: readonly Stamp[]): string =>
  stamps.length === 1 ? name : `${name}, ${safeName(stamp.name, stamp.id)}`;

async function piecePdf(
  frozen: FrozenRun,
  name: string,
  values: Values,
  fonts: FontBook,
  pictureOf: PictureOf,
) {
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
