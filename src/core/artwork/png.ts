import { zlibSync } from 'fflate';
import { parseColour } from '../look/colour';
import { defaultLook, mmPerInch, type Look } from '../look/look';
import type { CodeSymbol } from '../symbology';
import type { DrawItem } from '../drawing/drawing';
import { deflateRows } from './deflate-rows';
import { mixed } from './gradient';
import { pngFile } from '../drawing/png-file';
import { fillBits, rasterise, rasteriseColour } from './raster';
import { artItems, onPixels, symbolArt, type SymbolArt } from './symbol-art';

/** Dots per module: `look.dotsPerModule`, or the result of size and dpi, rounded to whole dots. */
const scaleOf = (art: SymbolArt, look: Look): number =>
  Math.max(1, Math.round(look.dotsPerModule ?? art.layout.dots));

/** The art of a picture, and its pixels per module: as wide as its look asks for. */
export function pixelArt(symbol: CodeSymbol, look: Look): { art: SymbolArt; scale: number } {
  const art = symbolArt(symbol, look);
  return look.pixels === undefined || look.dotsPerModule !== undefined
    ? { art, scale: scaleOf(art, look) }
    : onPixels(art, look.pixels);
}

/** The header, the recorded resolution and the compressed rows of a PNG. */
function file(
  width: number,
  height: number,
  depth: number,
  kind: number,
  dpi: number,
  packed: Uint8Array,
  extra: [string, Uint8Array][] = [],
): Uint8Array {
  const header = new Uint8Array(13);
  const view = new DataView(header.buffer);
  view.setUint32(0, width);
  view.setUint32(4, height);
  header.set([depth, kind, 0, 0, 0], 8);
  const physical = new Uint8Array(9);
  const perMetre = Math.round((dpi / mmPerInch) * 1000);
  new DataView(physical.buffer).setUint32(0, perMetre);
  new DataView(physical.buffer).setUint32(4, perMetre);
  physical[8] = 1;
  return pngFile([
    ['IHDR', header],
    ...extra,
    ['pHYs', physical],
    ['IDAT', packed],
    ['IEND', new Uint8Array(0)],
  ]);
}

/**
 * A symbol as a PNG with its resolution: a 1-bit palette if there are two colours and edges may be
 * hard, else 8 bits with opacity and smooth edges.
 */
export function renderPng(symbol: CodeSymbol, look: Partial<Look> = {}): Uint8Array {
  const full = { ...defaultLook, ...look };
  const { art, scale } = pixelArt(symbol, full);
  const colours = art.parts.every((part) => part.kind !== 'image' && typeof part.fill === 'string');
  const soft =
    art.symbol.hexagons === true ||
    (full.modules ?? 'square') !== 'square' ||
    (full.finders ?? 'square') !== 'square' ||
    full.frame?.shape === 'rounded';
  return colours
    ? soft
      ? shades(art, full, scale)
      : twoColours(art, full, scale)
    : manyColours(art, full, scale);
}

function twoColours(art: SymbolArt, look: Look, scale: number): Uint8Array {
  const width = Math.round(art.columns * scale);
  const height = Math.round(art.rows * scale);
  const stride = ((width + 7) >> 3) + 1;
  const raw = new Uint8Array(stride * height);
  // everything except the background as ink; items in the background's colour erase ink
  for (const [i, part] of art.parts.entries()) {
    if (part.kind === 'rect' && i === 0) continue;
    if (part.kind === 'code') packModules(art, part, scale, stride, raw);
    else if (part.kind === 'path')
      fillBits(part.path, scale, { width, height, stride, raw }, part.fill === look.foreground);
  }
  const back = parseColour(look.background === 'transparent' ? '#ffffff' : look.background)!;
  const fore = parseColour(look.foreground)!;
  const palette: [string, Uint8Array][] = [
    ['PLTE', Uint8Array.of(back.r, back.g, back.b, fore.r, fore.g, fore.b)],
  ];
  if (look.background === 'transparent') palette.push(['tRNS', Uint8Array.of(0, 255)]);
  return file(width, height, 1, 3, look.dpi, deflateRows(lessAbove(raw, stride), stride), palette);
}

/**
 * Rows as their differences from the row above (PNG filter type 2), which are nearly all zero where
 * modules go on downwards.
 */
function lessAbove(raw: Uint8Array, stride: number): Uint8Array {
  const out = new Uint8Array(raw.length);
  for (let at = 0; at < raw.length; at += stride) {
    out[at] = 2;
    for (let i = at + 1; i < at + stride; i++) out[i] = raw[i]! - (at > 0 ? raw[i - stride]! : 0);
  }
  return out;
}

/**
 * Smooth edges of one colour on another: ten shades by how many of three by three dots are inked,
 * as an 8-bit palette.
 */
function shades(art: SymbolArt, look: Look, scale: number): Uint8Array {
  const items = inked(art, look);
  const fine = rasterise(
    items,
    { x: 0, y: 0, width: art.columns, height: art.rows },
    scale * samples * mmPerInch,
  );
  const width = Math.floor(fine.width / samples);
  const height = Math.floor(fine.height / samples);
  const stride = width + 1;
  const raw = new Uint8Array(stride * height);
  const levels = samples * samples;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let dark = 0;
      for (let v = 0; v < samples; v++) {
        const from = (y * samples + v) * fine.width + x * samples;
        for (let u = from; u < from + samples; u++) if (fine.pixels[u]! < 128) dark++;
      }
      raw[y * stride + 1 + x] = dark;
    }
  const clear = look.background === 'transparent';
  const back = clear ? look.foreground : look.background;
  const palette = Array.from({ length: levels + 1 }, (_, i) =>
    parseColour(mixed(back, look.foreground, i / levels))!,
  );
  const chunks: [string, Uint8Array][] = [
    ['PLTE', Uint8Array.from(palette.flatMap(({ r, g, b }) => [r, g, b]))],
  ];
  if (clear)
    chunks.push(['tRNS', Uint8Array.from(palette, (_, i) => Math.round((i * 255) / levels))]);
  return file(width, height, 8, 3, look.dpi, deflateRows(lessAbove(raw, stride), stride), chunks);
}

/** The items without the background: ink black, items in the background's colour white. */
const inked = (art: SymbolArt, look: Look): DrawItem[] =>
  artItems(art, 0, 0, 1)
    .filter((item, i) => !(item.kind === 'rect' && i === 0))
    .map(
      (item) =>
        ({
          ...item,
          fill: 'fill' in item && item.fill === look.foreground ? '#000000' : '#ffffff',
        }) as DrawItem,
    );

/** Modules as bits, straight. */
function packModules(
  { symbol }: SymbolArt,
  at: { x: number; y: number },
  scale: number,
  stride: number,
  raw: Uint8Array,
): void {
  for (let r = 0, above = at.y; r < symbol.rows; r++) {
    const y = Math.round(above * scale);
    const thick = Math.round((symbol.rowHeights?.[r] ?? 1) * scale);
    above += symbol.rowHeights?.[r] ?? 1;
    const line = y * stride + 1;
    for (let c = 0; c < symbol.columns; c++) {
      if (symbol.modules[r * symbol.columns + c] === 0) continue;
      const from = Math.round((c + at.x) * scale);
      for (let x = from; x < from + scale; x++) raw[line + (x >> 3)]! |= 0x80 >> (x & 7);
    }
    for (let k = 1; k < thick; k++) raw.copyWithin((y + k) * stride, y * stride, (y + 1) * stride);
  }
}

const samples = 3;

/**
 * A code as pixels with opacity, edges smoothed by taking each pixel's average over three by three
 * dots.
 */
export function renderPixels(
  art: SymbolArt,
  scale: number,
): { width: number; height: number; rgba: Uint8Array } {
  const fine = rasteriseColour(
    artItems(art, 0, 0, 1),
    { x: 0, y: 0, width: art.columns, height: art.rows },
    scale * samples * mmPerInch,
  );
  const width = Math.floor(fine.width / samples);
  const height = Math.floor(fine.height / samples);
  const rgba = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0, 0];
      for (let v = 0; v < samples; v++)
        for (let u = 0; u < samples; u++) {
          const i = ((y * samples + v) * fine.width + x * samples + u) * 4;
          const opacity = fine.rgba[i + 3]!;
          for (let k = 0; k < 3; k++) sum[k]! += fine.rgba[i + k]! * opacity;
          sum[3]! += opacity;
        }
      const o = (y * width + x) * 4;
      if (sum[3]! > 0) for (let k = 0; k < 3; k++) rgba[o + k] = Math.round(sum[k]! / sum[3]!);
      rgba[o + 3] = Math.round(sum[3]! / (samples * samples));
    }
  return { width, height, rgba };
}

function manyColours(art: SymbolArt, look: Look, scale: number): Uint8Array {
  const { width, height, rgba } = renderPixels(art, scale);
  const raw = new Uint8Array((width * 4 + 1) * height);
  for (let y = 0; y < height; y++)
    raw.set(rgba.subarray(y * width * 4, (y + 1) * width * 4), y * (width * 4 + 1) + 1);
  return file(width, height, 8, 6, look.dpi, zlibSync(raw, { level: 6 }));
}
