import { renderPdf } from '../../core/artwork/code-pdf';
import { renderEps } from '../../core/artwork/eps';
import { renderJpeg } from '../../core/artwork/jpeg';
import { renderPng } from '../../core/artwork/png';
import { renderSvg } from '../../core/artwork/svg';
import { contentFit, contentOf, type Stamp } from '../../core/payload/stamp';
import { encodeStamp, makePiece } from '../../core/piece/piece';
import type { Piece } from '../../core/piece/model';
import { stocks } from '../../core/piece/stock';
import { FontBook } from '../../core/artwork/fonts';
import { readBack, readImage, readsRight, type ReadBack } from '../../core/readback/readback';
import type { Values } from '../../core/records/columns';
import type { ImageFormat } from '../../core/run/outputs';
import type { CodeSymbol } from '../../core/symbology';
import type { MadeCode } from './maker';

export interface CodeFile {
  bytes: Uint8Array;
  payload: string;
  back: ReadBack;
}

/**
 * The code of a record as a file. It is read back from that file if it is pixels, else from its
 * artwork.
 */
export async function codeFile(
  stamp: Stamp,
  values: Values,
  format: ImageFormat,
): Promise<CodeFile | undefined> {
  const content = contentOf(stamp, values);
  // what does not fit has no code; why, the verdict on its record says
  if (content.state !== 'said' || !contentFit(stamp, content).fits) return undefined;
  const symbol = encodeStamp(stamp, content.payload);
  const bytes = await render(symbol, stamp, format);
  const back =
    format === 'png' || format === 'jpeg'
      ? await readPixels(bytes, symbol)
      : await readArtwork(stamp, values);
  return { bytes, payload: content.payload, back };
}

async function render(symbol: CodeSymbol, stamp: Stamp, format: ImageFormat): Promise<Uint8Array> {
  if (format === 'svg') return new TextEncoder().encode(renderSvg(symbol, stamp.look));
  if (format === 'png') return renderPng(symbol, stamp.look);
  if (format === 'jpeg') return renderJpeg(symbol, stamp.look);
  return format === 'eps'
    ? renderEps(symbol, stamp.look)
    : renderPdf(symbol, stamp.look, stamp.name);
}

/** Reads the code in a picture file back and compares it with its content. */
async function readPixels(bytes: Uint8Array, symbol: CodeSymbol): Promise<ReadBack> {
  const reading = await readImage(bytes, symbol.symbology);
  if (!reading) return { result: 'unread' };
  const same = readsRight(symbol, reading);
  return same
    ? { result: 'read', text: reading.text, unusedCorrection: reading.unusedCorrection }
    : { result: 'differs', text: reading.text };
}

const noFonts = new FontBook();

async function readArtwork(stamp: Stamp, values: Values): Promise<ReadBack> {
  const alone: Piece = {
    stock: 'a4-sign',
    elements: [
      { kind: 'stamp', id: 'alone', stamp: stamp.id, x: 5, y: 5, sizeMm: stamp.look.sizeMm },
    ],
  };
  const made = makePiece(alone, stocks[0]!, [stamp], values, noFonts);
  return made.codes[0] ? readBack(made.items, made.codes[0], noFonts) : { result: 'unread' };
}

/** Reads the codes of a document back from the pictures in it, at their dots. */
export async function readPictures(
  codes: readonly (Pick<MadeCode, 'stamp' | 'payload' | 'inRow'> & {
    symbol: CodeSymbol;
    png: Uint8Array;
  })[],
): Promise<MadeCode[]> {
  const made: MadeCode[] = [];
  for (const { stamp, symbol, payload, png, inRow } of codes) {
    const back = await readPixels(png, symbol);
    made.push({
      stamp,
      payload,
      result: back.result,
      read: back.result === 'unread' ? null : back.text,
      inRow,
    });
  }
  return made;
}
