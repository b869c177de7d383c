import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import {
  prepareZXingModule,
  purgeZXingModule,
  readBarcodes,
  type ReaderOptions,
  type ReadResult,
} from 'zxing-wasm/reader';
import { GreyRoom, pgm, rasterise, type GreyImage } from '../artwork/raster';
import type { DrawItem } from '../drawing/drawing';
import type { FontBook } from '../artwork/fonts';
import type { PlacedCode } from '../piece/piece';
import { expectedRead, symbologies, type CodeSymbol, type SymbologyId } from '../symbology';

let renew: (() => void) | undefined;
let reads = 0;
/**
 * The reader's library keeps something of every picture it has read; a fresh instance of the same
 * program keeps memory flat.
 */
const readsPerInstance = 2000;

/**
 * Gives the independent reader its program. In Node.js hand over the bytes, in a browser the
 * address of the file.
 */
export function prepareReader(source: { wasm: ArrayBuffer } | { address: string }): void {
  if ('address' in source) {
    prepareZXingModule({ overrides: { locateFile: () => source.address } });
    return;
  }
  // compiled once: optimized code stays optimized in every instance
  const program = new WebAssembly.Module(source.wasm);
  renew = () => {
    purgeZXingModule();
    prepareZXingModule({
      overrides: {
        instantiateWasm(imports: WebAssembly.Imports, done: (it: WebAssembly.Instance) => void) {
          const instance = new WebAssembly.Instance(program, imports);
          done(instance);
          return instance.exports;
        },
      },
    });
  };
  renew();
}

export interface Reading {
  format: string;
  text: string;
  identifier: string;
  /** Unused error correction, 0 to 1, if the reader reports it. */
  unusedCorrection?: number;
  /** Its middle in the picture, in px. */
  middle: { x: number; y: number };
}

const settings: ReaderOptions = {
  tryHarder: true,
  textMode: 'Plain',
  eanAddOnSymbol: 'Read',
};

/**
 * Reads a code from a grey picture or from the bytes of a picture file. Undefined when there is
 * none that reads.
 */
export async function readImage(
  image: GreyImage | Uint8Array,
  symbology?: SymbologyId,
): Promise<Reading | undefined> {
  return (await readImages(image, symbology, 1))[0];
}

/** The middle of a code by its corners, in px of the picture. */
function middleOf({ topLeft, topRight, bottomLeft, bottomRight }: ReadResult['position']) {
  const corners = [topLeft, topRight, bottomLeft, bottomRight];
  return {
    x: corners.reduce((sum, one) => sum + one.x, 0) / 4,
    y: corners.reduce((sum, one) => sum + one.y, 0) / 4,
  };
}

/** All codes that read in a picture, up to `most`. */
export async function readImages(
  image: GreyImage | Uint8Array,
  symbology?: SymbologyId,
  most = 20,
): Promise<Reading[]> {
  if (++reads % readsPerInstance === 0) renew?.();
  const formats = symbology ? symbologies[symbology].readerFormats.slice() : [];
  const results = await readBarcodes(image instanceof Uint8Array ? image : pgm(image), {
    ...settings,
    formats,
    maxNumberOfSymbols: most,
  });
  return results.flatMap((result) => {
    if (!result.isValid) return [];
    const extra: unknown = result.extra ? JSON.parse(result.extra) : {};
    const uec =
      extra && typeof extra === 'object' && 'UEC' in extra ? Number(extra.UEC) : undefined;
    return [
      {
        format: result.format,
        text: result.text,
        identifier: result.symbologyIdentifier,
        middle: middleOf(result.position),
        unusedCorrection: uec,
      },
    ];
  });
}

export type ReadBack =
  | { result: 'read'; text: string; unusedCorrection?: number }
  | { result: 'differs'; text: string }
  | { result: 'unread' };

/** Whether a reading equals the content of a symbol; for a hidden payload, by its hash. */
export function readsRight(
  symbol: CodeSymbol,
  reading: Pick<Reading, 'text' | 'identifier'>,
): boolean {
  if (symbol.readingHash) return hashOf(reading.text) === symbol.readingHash;
  const expected = expectedRead(symbol);
  return (
    reading.text === expected.text &&
    (!expected.identifier || reading.identifier === expected.identifier)
  );
}

/** SHA-256 of a text's UTF-8, in hexadecimal. */
export const hashOf = (text: string): string => bytesToHex(sha256(new TextEncoder().encode(text)));

/** Rooms that no reading is going on in. */
const rooms: GreyRoom[] = [];

/** The surroundings of a code on the piece are read with it, as a scanner sees them. */
const surroundingsMm = 2;

/**
 * Reads a placed code from the finished artwork: everything drawn there, also text and pictures
 * over it, at the printer's dots. Compares it with its content.
 */
export async function readBack(
  items: readonly DrawItem[],
  code: PlacedCode,
  fonts: FontBook,
  dpi = code.dpi,
): Promise<ReadBack> {
  const crop = {
    x: code.x - surroundingsMm,
    y: code.y - surroundingsMm,
    width: code.width + 2 * surroundingsMm,
    height: code.height + 2 * surroundingsMm,
  };
  const room = rooms.pop() ?? new GreyRoom();
  rasterise(items, crop, dpi, fonts, room);
  const reading = await readImage(room.file, code.symbol.symbology);
  rooms.push(room);
  if (!reading) return { result: 'unread' };
  return readsRight(code.symbol, reading)
    ? { result: 'read', text: reading.text, unusedCorrection: reading.unusedCorrection }
    : { result: 'differs', text: reading.text };
}
