import { greyOf, parseColour } from '../look/colour';
import { mmPerInch } from '../look/look';
import type { FontBook, GlyphEdges } from '../piece/fonts';
import { symbolRects, type CodeItem, type DrawItem, type TextItem } from './drawing';

/** A grey picture, one byte a pixel, 0 black to 255 white, row by row from the top left. */
export interface GreyImage {
  width: number;
  height: number;
  pixels: Uint8Array;
}

export interface Crop {
  /** mm in the drawing. */
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Turns the part of a drawing inside `crop` into the dots a printer would set: a dot is inked when its centre is covered. */
export function rasterise(items: readonly DrawItem[], crop: Crop, dpi: number, fonts: FontBook): GreyImage {
  const scale = dpi / mmPerInch;
  const left = Math.round(crop.x * scale);
  const top = Math.round(crop.y * scale);
  const width = Math.round((crop.x + crop.width) * scale) - left;
  const height = Math.round((crop.y + crop.height) * scale) - top;
  const image: GreyImage = { width, height, pixels: new Uint8Array(width * height).fill(255) };
  for (const item of items) {
    const grey = greyOf(parseColour(item.fill) ?? { r: 0, g: 0, b: 0 });
    if (item.kind === 'rect') fillRect(image, item.x * scale - left, item.y * scale - top, item.width * scale, item.height * scale, grey);
    else if (item.kind === 'code') fillCode(image, item, scale, left, top, grey);
    else if (touches(item, crop)) fillText(image, item, scale, left, top, grey, fonts);
  }
  return image;
}

/** A generous box round a line of text: whether it can reach the crop at all. */
function touches(item: TextItem, crop: Crop): boolean {
  const last = item.glyphs.at(-1);
  const right = item.x + (last?.x ?? 0) + item.sizeMm * 2;
  return (
    item.x - item.sizeMm < crop.x + crop.width &&
    right > crop.x &&
    item.y - item.sizeMm * 1.5 < crop.y + crop.height &&
    item.y + item.sizeMm > crop.y
  );
}

function fillRect(image: GreyImage, x: number, y: number, width: number, height: number, grey: number): void {
  const x0 = Math.max(0, Math.ceil(x - 0.5));
  const x1 = Math.min(image.width, Math.ceil(x + width - 0.5));
  const y0 = Math.max(0, Math.ceil(y - 0.5));
  const y1 = Math.min(image.height, Math.ceil(y + height - 0.5));
  if (x1 > x0) for (let r = y0; r < y1; r++) image.pixels.fill(grey, r * image.width + x0, r * image.width + x1);
}

function fillCode(image: GreyImage, item: CodeItem, scale: number, left: number, top: number, grey: number): void {
  const rects = symbolRects(item.symbol);
  const module = item.moduleMm * scale;
  // snapping the corner to a dot keeps whole dots whole, as a printer's own rounding of one position does
  const x = Math.round(item.x * scale) - left;
  const y = Math.round(item.y * scale) - top;
  for (let i = 0; i < rects.length; i += 4) {
    const x0 = Math.round(rects[i] * module);
    const y0 = Math.round(rects[i + 1] * module);
    fillRect(
      image,
      x + x0,
      y + y0,
      Math.round((rects[i] + rects[i + 2]) * module) - x0,
      Math.round((rects[i + 1] + rects[i + 3]) * module) - y0,
      grey,
    );
  }
}

function fillText(image: GreyImage, item: TextItem, scale: number, left: number, top: number, grey: number, fonts: FontBook): void {
  const face = fonts.font(item.font);
  const unit = (item.sizeMm / face.unitsPerEm) * scale;
  for (const glyph of item.glyphs) {
    const x = (item.x + glyph.x) * scale - left;
    const y = (item.y - glyph.dy) * scale - top;
    const outline = face.flatOutline(glyph.id);
    if (x + outline.minX * unit > image.width || x + outline.maxX * unit < 0) continue;
    if (y - outline.maxY * unit > image.height || y - outline.minY * unit < 0) continue;
    fillOutline(image, outline, x, y, unit, grey);
  }
}

/** Fills closed outlines by the non-zero winding rule; glyph origin at `x`, `y` pixels, `unit` pixels a font unit. */
function fillOutline(image: GreyImage, { edges, minY, maxY }: GlyphEdges, x: number, y: number, unit: number, grey: number): void {
  const y0 = Math.max(0, Math.ceil(y - maxY * unit - 0.5));
  const y1 = Math.min(image.height, Math.ceil(y - minY * unit - 0.5));
  const at: number[] = [];
  const turn: number[] = [];
  for (let r = y0; r < y1; r++) {
    const level = (y - r - 0.5) / unit;
    at.length = turn.length = 0;
    for (let i = 0; i < edges.length; i += 4) {
      const ay = edges[i + 1];
      const by = edges[i + 3];
      if (ay <= level === by <= level) continue;
      const crossing = x + (edges[i] + ((level - ay) / (by - ay)) * (edges[i + 2] - edges[i])) * unit;
      let k = at.length;
      while (k > 0 && at[k - 1] > crossing) k--;
      at.splice(k, 0, crossing);
      turn.splice(k, 0, ay < by ? 1 : -1);
    }
    let winding = 0;
    for (let i = 0; i + 1 < at.length; i++) {
      winding += turn[i];
      if (winding === 0) continue;
      const x0 = Math.max(0, Math.ceil(at[i] - 0.5));
      const x1 = Math.min(image.width, Math.ceil(at[i + 1] - 0.5));
      if (x1 > x0) image.pixels.fill(grey, r * image.width + x0, r * image.width + x1);
    }
  }
}

/** A grey picture as a PGM file (portable graymap, binary). */
export function pgm({ width, height, pixels }: GreyImage): Uint8Array {
  const head = new TextEncoder().encode(`P5\n${width} ${height}\n255\n`);
  const out = new Uint8Array(head.length + pixels.length);
  out.set(head);
  out.set(pixels, head.length);
  return out;
}
