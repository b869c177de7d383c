import { greyOf, parseColour } from '../look/colour';
import { mmPerInch } from '../look/look';
import type { FontBook } from './fonts';
import {
  gradientAt,
  symbolHeight,
  symbolRects,
  type ClipItem,
  type CodeItem,
  type DrawItem,
  type ImageItem,
  type PathItem,
  type TextItem,
} from '../drawing/drawing';
import { mixed } from './gradient';
import { edgesOf, type Edges, type Path } from '../drawing/path';
import type { Picture } from '../drawing/picture';

/** A grey picture, one byte a pixel, 0 black to 255 white, row by row from the top left. */
export interface GreyImage {
  width: number;
  height: number;
  pixels: Uint8Array;
}

/**
 * Room for grey pictures one after the other: thousands of them are read back without thousands of
 * buffers to be thrown away.
 */
export class GreyRoom {
  private bytes = new Uint8Array(0);
  /** The picture last drawn here, as a PGM file (portable graymap, binary). */
  file = this.bytes;

  /** A white picture to draw into; valid until the next one is requested. */
  white(width: number, height: number): GreyImage {
    const head = pgmHead(width, height);
    const length = head.length + width * height;
    if (this.bytes.length < length) this.bytes = new Uint8Array(length);
    this.file = this.bytes.subarray(0, length);
    this.file.set(head);
    return { width, height, pixels: this.file.subarray(head.length).fill(255) };
  }
}

export interface Crop {
  /** mm in the drawing. */
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The target of painted spans: a grey picture for reading, a coloured one for files. */
interface Surface {
  width: number;
  height: number;
  /**
   * Paints dots `x0` to `x1` of row `y` in a colour; `at` gives the colour dot by dot if it
   * changes.
   */
  span(y: number, x0: number, x1: number, fill: string, at?: (x: number) => string): void;
  /** Blends one dot of a picture over the background; `opacity` 0 to 255. */
  dot(x: number, y: number, r: number, g: number, b: number, opacity: number): void;
}

/**
 * Turns the part of a drawing inside `crop` into the dots a printer would set: a dot is inked when
 * its centre is covered.
 */
export function rasterise(
  items: readonly DrawItem[],
  crop: Crop,
  dpi: number,
  fonts?: FontBook,
  room = new GreyRoom(),
): GreyImage {
  const frame = frameOf(crop, dpi);
  const { width, height } = frame;
  const image = room.white(width, height);
  const { pixels } = image;
  const greys = new Map<string, number>();
  const grey = (fill: string) => {
    let value = greys.get(fill);
    if (value === undefined)
      greys.set(fill, (value = greyOf(parseColour(fill) ?? { r: 0, g: 0, b: 0 })));
    return value;
  };
  const surface: Surface = {
    width,
    height,
    span(y, x0, x1, fill, at) {
      if (!at) pixels.fill(grey(fill), y * width + x0, y * width + x1);
      else for (let x = x0; x < x1; x++) pixels[y * width + x] = grey(at(x));
    },
    dot(x, y, r, g, b, opacity) {
      const i = y * width + x;
      pixels[i] = Math.round((greyOf({ r, g, b }) * opacity + pixels[i]! * (255 - opacity)) / 255);
    },
  };
  paint(items, frame, crop, surface, fonts);
  return image;
}

/**
 * The same in colour, red, green, blue and opacity, four bytes a dot; what nothing covers stays
 * transparent.
 */
export function rasteriseColour(
  items: readonly DrawItem[],
  crop: Crop,
  dpi: number,
  fonts?: FontBook,
): Picture {
  const frame = frameOf(crop, dpi);
  const { width, height } = frame;
  const rgba = new Uint8Array(width * height * 4);
  const words = new Uint32Array(rgba.buffer);
  const packed = new Map<string, number>();
  const word = (fill: string) => {
    let value = packed.get(fill);
    if (value === undefined) {
      const { r, g, b } = parseColour(fill) ?? { r: 0, g: 0, b: 0 };
      packed.set(fill, (value = new Uint32Array(Uint8Array.of(r, g, b, 255).buffer)[0]!));
    }
    return value;
  };
  const surface: Surface = {
    width,
    height,
    span(y, x0, x1, fill, at) {
      if (!at) words.fill(word(fill), y * width + x0, y * width + x1);
      else for (let x = x0; x < x1; x++) words[y * width + x] = word(at(x));
    },
    dot(x, y, r, g, b, opacity) {
      const i = (y * width + x) * 4;
      const under = rgba[i + 3]!;
      const over = opacity / 255;
      [r, g, b].forEach(
        (v, k) => (rgba[i + k] = Math.round(v * over + (under ? rgba[i + k]! : v) * (1 - over))),
      );
      rgba[i + 3] = Math.max(under, opacity);
    },
  };
  paint(items, frame, crop, surface, fonts);
  return { width, height, rgba };
}

interface Frame {
  scale: number;
  left: number;
  top: number;
  width: number;
  height: number;
}

function frameOf(crop: Crop, dpi: number): Frame {
  const scale = dpi / mmPerInch;
  const left = Math.round(crop.x * scale);
  const top = Math.round(crop.y * scale);
  return {
    scale,
    left,
    top,
    width: Math.round((crop.x + crop.width) * scale) - left,
    height: Math.round((crop.y + crop.height) * scale) - top,
  };
}

const meets = (a: Crop, b: Crop): boolean =>
  a.x < b.x + b.width && a.x + a.width > b.x && a.y < b.y + b.height && a.y + a.height > b.y;

function paint(
  items: readonly DrawItem[],
  frame: Frame,
  crop: Crop,
  surface: Surface,
  fonts: FontBook | undefined,
): void {
  const { scale, left, top } = frame;
  for (const item of items) {
    // a sheet holds many pieces, of which a crop shows one or two
    if (item.kind === 'clip') {
      if (meets(item, crop)) paint(item.items, frame, crop, clipped(surface, item, frame), fonts);
    } else if (item.kind === 'rect')
      fillRect(
        surface,
        item.x * scale - left,
        item.y * scale - top,
        item.width * scale,
        item.height * scale,
        item.fill,
      );
    else if (item.kind === 'code') {
      if (meets(codeBox(item), crop)) fillCode(surface, item, scale, left, top);
    } else if (item.kind === 'path') fillPath(surface, item, scale, left, top);
    else if (item.kind === 'image') fillImage(surface, item, scale, left, top);
    else if (touches(item, crop)) {
      if (!fonts) throw new Error('Text needs its typefaces to be drawn.');
      fillText(surface, item, scale, left, top, fonts);
    }
  }
}

const codeBox = ({ symbol, x, y, moduleMm }: CodeItem): Crop => ({
  x,
  y,
  width: symbol.columns * moduleMm,
  height: symbolHeight(symbol) * moduleMm,
});

/** A surface that paints nothing outside a rectangle of the drawing. */
function clipped(
  surface: Surface,
  { x, y, width, height }: ClipItem,
  { scale, left, top }: Frame,
): Surface {
  const first = (mm: number, from: number) => Math.ceil(mm * scale - from - 0.5);
  const [x0, x1, y0, y1] = [
    first(x, left),
    first(x + width, left),
    first(y, top),
    first(y + height, top),
  ];
  if (x0 <= 0 && y0 <= 0 && x1 >= surface.width && y1 >= surface.height) return surface;
  return {
    width: surface.width,
    height: surface.height,
    span(row, from, to, fill, at) {
      if (row < y0 || row >= y1) return;
      const [a, b] = [Math.max(from, x0), Math.min(to, x1)];
      if (b > a) surface.span(row, a, b, fill, at);
    },
    dot(column, row, ...colour) {
      if (column >= x0 && column < x1 && row >= y0 && row < y1) surface.dot(column, row, ...colour);
    },
  };
}

function fillPath(
  surface: Surface,
  { path, x, y, unitMm, fill }: PathItem,
  scale: number,
  left: number,
  top: number,
): void {
  const unit = unitMm * scale;
  // the same snapping of the corner as for plain codes
  const x0 = Math.round(x * scale) - left;
  const y0 = Math.round(y * scale) - top;
  if (typeof fill === 'string')
    return fillOutline(surface, edgesOf(path), x0, y0, unit, false, () => fill);
  fillOutline(
    surface,
    edgesOf(path),
    x0,
    y0,
    unit,
    false,
    (px, py) =>
      mixed(fill.from, fill.to, gradientAt(fill, (px + 0.5 - x0) / unit, (py + 0.5 - y0) / unit)),
    true,
  );
}

function fillImage(
  surface: Surface,
  { picture, x, y, width, height }: ImageItem,
  scale: number,
  left: number,
  top: number,
): void {
  const [x0, y0, w, h] = [x * scale - left, y * scale - top, width * scale, height * scale];
  for (
    let py = Math.max(0, Math.ceil(y0 - 0.5));
    py < Math.min(surface.height, Math.ceil(y0 + h - 0.5));
    py++
  ) {
    const v = Math.min(picture.height - 1, Math.floor(((py + 0.5 - y0) / h) * picture.height));
    for (
      let px = Math.max(0, Math.ceil(x0 - 0.5));
      px < Math.min(surface.width, Math.ceil(x0 + w - 0.5));
      px++
    ) {
      const u = Math.min(picture.width - 1, Math.floor(((px + 0.5 - x0) / w) * picture.width));
      const i = (v * picture.width + u) * 4;
      if (picture.rgba[i + 3]! > 0)
        surface.dot(
          px,
          py,
          picture.rgba[i]!,
          picture.rgba[i + 1]!,
          picture.rgba[i + 2]!,
          picture.rgba[i + 3]!,
        );
    }
  }
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

function fillRect(
  surface: Surface,
  x: number,
  y: number,
  width: number,
  height: number,
  fill: string,
): void {
  const x0 = Math.max(0, Math.ceil(x - 0.5));
  const x1 = Math.min(surface.width, Math.ceil(x + width - 0.5));
  const y0 = Math.max(0, Math.ceil(y - 0.5));
  const y1 = Math.min(surface.height, Math.ceil(y + height - 0.5));
  if (x1 > x0) for (let r = y0; r < y1; r++) surface.span(r, x0, x1, fill);
}

function fillCode(
  surface: Surface,
  item: CodeItem,
  scale: number,
  left: number,
  top: number,
): void {
  const rects = symbolRects(item.symbol);
  const module = item.moduleMm * scale;
  // snapping the corner to a dot keeps whole dots whole, as a printer's own rounding of one
  // position does
  const x = Math.round(item.x * scale) - left;
  const y = Math.round(item.y * scale) - top;
  for (let i = 0; i < rects.length; i += 4) {
    const x0 = Math.round(rects[i]! * module);
    const y0 = Math.round(rects[i + 1]! * module);
    fillRect(
      surface,
      x + x0,
      y + y0,
      Math.round((rects[i]! + rects[i + 2]!) * module) - x0,
      Math.round((rects[i + 1]! + rects[i + 3]!) * module) - y0,
      item.fill,
    );
  }
}

function fillText(
  surface: Surface,
  item: TextItem,
  scale: number,
  left: number,
  top: number,
  fonts: FontBook,
): void {
  const face = fonts.font(item.font);
  const unit = (item.sizeMm / face.unitsPerEm) * scale;
  for (const glyph of item.glyphs) {
    const x = (item.x + glyph.x) * scale - left;
    const y = (item.y - glyph.dy) * scale - top;
    const outline = face.flatOutline(glyph.id);
    if (x + outline.minX * unit > surface.width || x + outline.maxX * unit < 0) continue;
    if (y - outline.maxY * unit > surface.height || y - outline.minY * unit < 0) continue;
    fillOutline(surface, outline, x, y, unit, true, () => item.fill);
  }
}

/**
 * Fills closed outlines by the non-zero winding rule; origin at `x`, `y` pixels, `unit` pixels a
 * unit.
 * @param up whether the outline's y goes upwards, as in typefaces
 */
function fillOutline(
  surface: Surface,
  { edges, minY, maxY }: Edges,
  x: number,
  y: number,
  unit: number,
  up: boolean,
  colour: (x: number, y: number) => string,
  changing = false,
): void {
  const sign = up ? -1 : 1;
  const y0 = Math.max(0, Math.ceil(y + (up ? -maxY : minY) * unit - 0.5));
  const y1 = Math.min(surface.height, Math.ceil(y + (up ? -minY : maxY) * unit - 0.5));
  if (y1 <= y0) return;
  // edges by the first row whose middle they cross, each in a chain for its row; those of a row in
  // the order of the outline, which is nearly that from left to right
  const count = edges.length >> 2;
  const { waiting, chain, lastRow, active, at, turn } = roomFor(count, y1 - y0);
  waiting.fill(-1, 0, y1 - y0);
  for (let e = count - 1; e >= 0; e--) {
    const a = y + sign * edges[e * 4 + 1]! * unit;
    const b = y + sign * edges[e * 4 + 3]! * unit;
    const first = Math.max(y0, Math.ceil(Math.min(a, b) - 0.5));
    lastRow[e] = Math.min(y1 - 1, Math.ceil(Math.max(a, b) - 0.5));
    if (a === b || first > lastRow[e]! || first >= y1) continue;
    chain[e] = waiting[first - y0]!;
    waiting[first - y0] = e;
  }
  let live = 0;
  for (let r = y0; r < y1; r++) {
    for (let e = waiting[r - y0]!; e >= 0; e = chain[e]!) active[live++] = e;
    const level = (sign * (r + 0.5 - y)) / unit;
    let crossings = 0;
    let kept = 0;
    for (let n = 0; n < live; n++) {
      const e = active[n]!;
      if (lastRow[e]! < r) continue;
      active[kept++] = e;
      const i = e * 4;
      const ay = edges[i + 1]!;
      const by = edges[i + 3]!;
      if (ay <= level === by <= level) continue;
      const crossing =
        x + (edges[i]! + ((level - ay) / (by - ay)) * (edges[i + 2]! - edges[i]!)) * unit;
      let k = crossings++;
      for (; k > 0 && at[k - 1]! > crossing; k--) {
        at[k] = at[k - 1]!;
        turn[k] = turn[k - 1]!;
      }
      at[k] = crossing;
      turn[k] = ay < by ? 1 : -1;
    }
    live = kept;
    let winding = 0;
    for (let i = 0; i + 1 < crossings; i++) {
      winding += turn[i]!;
      if (winding === 0) continue;
      const x0 = Math.max(0, Math.ceil(at[i]! - 0.5));
      const x1 = Math.min(surface.width, Math.ceil(at[i + 1]! - 0.5));
      if (x1 > x0)
        surface.span(r, x0, x1, colour(x0, r), changing ? (px) => colour(px, r) : undefined);
    }
  }
}

/** Scratch memory for the edges of one outline while it is filled. */
const filling = (edges: number, rows: number) => ({
  waiting: new Int32Array(rows),
  chain: new Int32Array(edges),
  lastRow: new Int32Array(edges),
  active: new Int32Array(edges),
  at: new Float64Array(edges),
  turn: new Int8Array(edges),
});
let bench = filling(1024, 1024);

/** Scratch memory for so many edges and rows: outlines are filled one after the other. */
function roomFor(edges: number, rows: number): typeof bench {
  if (edges > bench.chain.length || rows > bench.waiting.length)
    bench = filling(Math.max(edges, bench.chain.length), Math.max(rows, bench.waiting.length));
  return bench;
}

/** Bits of dots, eight a byte from the left, each row after a byte of its own as in a PNG. */
export interface BitRows {
  width: number;
  height: number;
  /** Bytes in a row, the one before it among them. */
  stride: number;
  raw: Uint8Array;
}

/** Fills an outline in modules into bits, `scale` dots a module: `ink` or the want of it. */
export function fillBits(path: Path, scale: number, rows: BitRows, ink: boolean): void {
  const { width, height, stride, raw } = rows;
  const surface: Surface = {
    width,
    height,
    span(y, from, to) {
      const row = y * stride + 1;
      const first = row + (from >> 3);
      const last = row + ((to - 1) >> 3);
      for (let at = first; at <= last; at++) {
        let bits = 255;
        if (at === first) bits &= 255 >> (from & 7);
        if (at === last) bits &= 255 << (7 - ((to - 1) & 7));
        if (ink) raw[at]! |= bits;
        else raw[at]! &= ~bits;
      }
    },
    dot() {
      throw new Error('A picture has more colours than bits can say.');
    },
  };
  fillOutline(surface, edgesOf(path), 0, 0, scale, false, () => '');
}

const pgmHead = (width: number, height: number): Uint8Array =>
  new TextEncoder().encode(`P5\n${width} ${height}\n255\n`);

/** A grey picture as a PGM file (portable graymap, binary). */
export function pgm({ width, height, pixels }: GreyImage): Uint8Array {
  const head = pgmHead(width, height);
  const out = new Uint8Array(head.length + pixels.length);
  out.set(head);
  out.set(pixels, head.length);
  return out;
}
