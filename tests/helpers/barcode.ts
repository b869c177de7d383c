/** The independent reader and writer, for tests only. */
import { readFileSync } from 'node:fs';
import {
  prepareZXingModule as prepareReader,
  readBarcodes,
  type ReaderOptions,
  type ReadResult,
} from 'zxing-wasm/reader';
import { prepareZXingModule as prepareWriter, writeBarcode } from 'zxing-wasm/writer';
import type { MatrixSymbol } from '../../src/core/symbology';

const wasm = (name: string): ArrayBuffer => {
  const file = readFileSync(`node_modules/zxing-wasm/dist/${name}/zxing_${name}.wasm`);
  return file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer;
};

let ready = false;
function prepare(): void {
  if (ready) return;
  prepareReader({ overrides: { wasmBinary: wasm('reader') } });
  prepareWriter({ overrides: { wasmBinary: wasm('writer') } });
  ready = true;
}

/** What the independent writer draws for a payload, module by module; 1 is dark. */
export async function witness(
  text: string,
  format: string,
  options: string,
): Promise<{ columns: number; rows: number; modules: number[] }> {
  prepare();
  const result = await writeBarcode(text, {
    format: format as 'QRCode',
    options,
    addQuietZones: false,
    scale: 1,
  });
  if (result.error) throw new Error(`${format} ${options}: ${result.error}`);
  return {
    columns: result.symbol.width,
    rows: result.symbol.height,
    modules: Array.from(result.symbol.data, (v) => (v === 0 ? 1 : 0)),
  };
}

/** How many modules of ours differ from the witness; -1 when the sizes do. */
export function differences(
  ours: MatrixSymbol,
  theirs: { columns: number; rows: number; modules: number[] },
): number {
  if (ours.columns !== theirs.columns || ours.rows !== theirs.rows) return -1;
  let count = 0;
  for (let i = 0; i < ours.modules.length; i++) if (ours.modules[i] !== theirs.modules[i]) count++;
  return count;
}

export interface Read {
  /** The four corners of the code, in pixels. */
  corners: { x: number; y: number }[];
  text: string;
  bytes: Uint8Array;
  identifier: string;
  hasEci: boolean;
  format: string;
  extra: { UEC?: number; Version?: number | string; ECLevel?: string; DataMask?: number };
}

const summary = (result: ReadResult): Read => ({
  text: result.text,
  corners: [
    result.position.topLeft,
    result.position.topRight,
    result.position.bottomRight,
    result.position.bottomLeft,
  ],
  bytes: result.bytes,
  identifier: result.symbologyIdentifier,
  hasEci: result.hasECI,
  format: result.format,
  extra: (result.extra ? JSON.parse(result.extra) : {}) as Read['extra'],
});

/** Reads picture bytes (PNG or PGM) with the independent reader. */
export async function readAll(image: Uint8Array, options: ReaderOptions = {}): Promise<Read[]> {
  prepare();
  const results = await readBarcodes(image, { tryHarder: true, textMode: 'Plain', ...options });
  return results.filter((r) => r.isValid).map(summary);
}

/** All codes of a picture with the corners of each, in pixels. */
export async function readPlaces(image: Uint8Array) {
  prepare();
  const results = await readBarcodes(image, { tryHarder: true, textMode: 'Plain' });
  return results.filter((r) => r.isValid).map(({ text, position }) => ({ text, position }));
}

/**
 * Bars and spaces of a witness's drawing, as one row of modules: its first row that has bars in
 * full.
 */
export const barsOf = (drawn: { columns: number; modules: number[] }, row = 0): string =>
  drawn.modules.slice(row * drawn.columns, (row + 1) * drawn.columns).join('');

/** A symbol with its quiet zone as a grey picture of `scale` pixels a module. */
export function symbolPgm(symbol: MatrixSymbol, scale = 4): Uint8Array {
  const q = symbol.quietZone;
  const width = (symbol.columns + q.left + q.right) * scale;
  const heights = symbol.rowHeights ?? new Array<number>(symbol.rows).fill(1);
  const rowOf = heights.flatMap((h, r) => new Array<number>(h).fill(r));
  const height = (rowOf.length + q.top + q.bottom) * scale;
  const head = new TextEncoder().encode(`P5\n${width} ${height}\n255\n`);
  const out = new Uint8Array(head.length + width * height).fill(255);
  out.set(head);
  for (let y = 0; y < rowOf.length * scale; y++)
    for (let x = 0; x < symbol.columns * scale; x++)
      if (symbol.modules[rowOf[Math.floor(y / scale)]! * symbol.columns + Math.floor(x / scale)])
        out[head.length + (y + q.top * scale) * width + x + q.left * scale] = 0;
  return out;
}
