import { zlibSync } from 'fflate';
import { parseColour } from '../look/colour';
import { defaultLook, extent, measure, mmPerInch, withBarHeight, type Look } from '../look/look';
import type { CodeSymbol } from '../symbology';

const crcTable = new Int32Array(256).map((_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  return c;
});

function crc32(bytes: Uint8Array): number {
  let c = -1;
  for (let i = 0; i < bytes.length; i++) c = crcTable[(c ^ bytes[i]) & 255] ^ (c >>> 8);
  return (c ^ -1) >>> 0;
}

/** Joins PNG chunks (ISO/IEC 15948) after the signature. */
export function pngFile(chunks: readonly (readonly [type: string, data: Uint8Array])[]): Uint8Array {
  const size = chunks.reduce((sum, [, data]) => sum + data.length + 12, 8);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  out.set([137, 80, 78, 71, 13, 10, 26, 10]);
  let at = 8;
  for (const [type, data] of chunks) {
    view.setUint32(at, data.length);
    for (let i = 0; i < 4; i++) out[at + 4 + i] = type.charCodeAt(i);
    out.set(data, at + 8);
    view.setUint32(at + 8 + data.length, crc32(out.subarray(at + 4, at + 8 + data.length)));
    at += data.length + 12;
  }
  return out;
}

/**
 * A symbol as a PNG with a 1-bit palette and its resolution recorded.
 * Scale in pixels a module: `look.dotsPerModule`, or what size and dpi come to, rounded to whole dots.
 */
export function renderPng(given: CodeSymbol, look: Partial<Look> = {}): Uint8Array {
  const full = { ...defaultLook, ...look };
  const symbol = withBarHeight(given, full);
  const { columns, rows, left, top } = extent(symbol, full);
  const measured = measure(symbol, full);
  const scale = Math.max(1, Math.round(full.dotsPerModule ?? measured.dots));
  const width = columns * scale;
  const height = rows * scale;
  const stride = ((width + 7) >> 3) + 1;
  const raw = new Uint8Array(stride * height);
  for (let r = 0, above = top; r < symbol.rows; r++) {
    const y = above * scale;
    const thick = (symbol.rowHeights?.[r] ?? 1) * scale;
    above += symbol.rowHeights?.[r] ?? 1;
    const line = y * stride + 1;
    for (let c = 0; c < symbol.columns; c++) {
      if (symbol.modules[r * symbol.columns + c] === 0) continue;
      const end = (c + left + 1) * scale;
      for (let x = (c + left) * scale; x < end; x++) raw[line + (x >> 3)] |= 0x80 >> (x & 7);
    }
    for (let k = 1; k < thick; k++) raw.copyWithin((y + k) * stride, y * stride, (y + 1) * stride);
  }
  const header = new Uint8Array(13);
  const view = new DataView(header.buffer);
  view.setUint32(0, width);
  view.setUint32(4, height);
  header.set([1, 3, 0, 0, 0], 8);
  const back = parseColour(full.background === 'transparent' ? '#ffffff' : full.background)!;
  const fore = parseColour(full.foreground)!;
  const chunks: [string, Uint8Array][] = [
    ['IHDR', header],
    ['PLTE', Uint8Array.of(back.r, back.g, back.b, fore.r, fore.g, fore.b)],
  ];
  if (full.background === 'transparent') chunks.push(['tRNS', Uint8Array.of(0, 255)]);
  const physical = new Uint8Array(9);
  const perMetre = Math.round((full.dpi / mmPerInch) * 1000);
  new DataView(physical.buffer).setUint32(0, perMetre);
  new DataView(physical.buffer).setUint32(4, perMetre);
  physical[8] = 1;
  chunks.push(['pHYs', physical], ['IDAT', zlibSync(raw, { level: 6 })], ['IEND', new Uint8Array(0)]);
  return pngFile(chunks);
}
