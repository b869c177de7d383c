import type { CodeSymbol } from '../symbology/types';
import type { Path } from './path';
import type { Picture } from './picture';

/**
 * The one display list from which every output is made. Lengths in mm, origin at the top left, y
 * downwards. Later items lie over earlier ones.
 */
export interface Drawing {
  widthMm: number;
  heightMm: number;
  items: DrawItem[];
}

export type DrawItem = RectItem | CodeItem | PathItem | ImageItem | TextItem | ClipItem;

/** Items that are clipped to a rectangle: a piece at its seat. */
export interface ClipItem {
  kind: 'clip';
  x: number;
  y: number;
  width: number;
  height: number;
  items: readonly DrawItem[];
}

export interface RectItem {
  kind: 'rect';
  x: number;
  y: number;
  width: number;
  height: number;
  /** `#rrggbb`. */
  fill: string;
}

/** The square modules or bars of a symbol, all of one colour. */
export interface CodeItem {
  kind: 'code';
  symbol: CodeSymbol;
  /** Top left of the symbol without quiet zone. */
  x: number;
  y: number;
  moduleMm: number;
  fill: string;
}

export const gradientDirections = ['across', 'down', 'slanting', 'outwards'] as const;
export type GradientDirection = (typeof gradientDirections)[number];

/** Two colours that run into each other over a box, given in the unit of the path. */
export interface Gradient {
  from: string;
  to: string;
  direction: GradientDirection;
  box: { x: number; y: number; width: number; height: number };
}

/** An outline filled by the non-zero rule, `unitMm` mm for each unit of the path. */
export interface PathItem {
  kind: 'path';
  path: Path;
  x: number;
  y: number;
  unitMm: number;
  fill: string | Gradient;
}

export interface ImageItem {
  kind: 'image';
  picture: Picture;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** One line of glyphs in one font, on a baseline. */
export interface TextItem {
  kind: 'text';
  font: string;
  sizeMm: number;
  /** Start of the baseline. */
  x: number;
  y: number;
  glyphs: PlacedGlyph[];
  fill: string;
  /**
   * Outside the box of its text. It is printed all the same; a screen may show which letters they
   * are.
   */
  beyond?: true;
}

export interface PlacedGlyph {
  /** Glyph number in the whole font. */
  id: number;
  /** Distance from the start of the line, in mm. */
  x: number;
  /** Raised above the baseline, in mm. */
  dy: number;
  /** Its text; empty for all but the first glyph of a cluster. */
  text: string;
}

/** The position of a point between the two colours of a gradient, 0 to 1. */
export function gradientAt({ direction, box }: Gradient, x: number, y: number): number {
  const [u, v] = [(x - box.x) / box.width, (y - box.y) / box.height];
  const at =
    direction === 'across'
      ? u
      : direction === 'down'
        ? v
        : direction === 'slanting'
          ? (u + v) / 2
          : Math.hypot(u - 0.5, v - 0.5) / Math.SQRT1_2;
  return Math.min(1, Math.max(0, at));
}

/** Height of a symbol in modules without quiet zone: its rows may be higher than one module. */
export const symbolHeight = (symbol: CodeSymbol): number =>
  symbol.hexagons
    ? (2 + (symbol.rows - 1) * 1.5) / Math.sqrt(3)
    : (symbol.rowHeights?.reduce((sum, h) => sum + h, 0) ?? symbol.rows);

/**
 * The dark area of a symbol as rectangles `x, y, width, height` in modules, four numbers each.
 * Runs along a row are one rectangle; equal runs in following rows are joined.
 */
export function symbolRects(symbol: CodeSymbol): Int32Array {
  const { columns, rows, modules, rowHeights } = symbol;
  // where in `rects` the run with that start and width was last written; scratch memory, since this
  // runs for every code
  const open = scratch(columns * columns).fill(-1);
  let length = 0;
  let top = 0;
  for (let r = 0; r < rows; r++) {
    const row = r * columns;
    const height = rowHeights?.[r] ?? 1;
    for (let c = 0; c < columns;) {
      if (modules[row + c] === 0) {
        c++;
        continue;
      }
      const start = c;
      while (c < columns && modules[row + c] === 1) c++;
      const key = start * columns + c - start - 1;
      const known = open[key]!;
      if (known >= 0 && rects[known + 1]! + rects[known + 3]! === top) rects[known + 3]! += height;
      else {
        open[key] = length;
        if (length + 4 > rects.length) rects = enlarged(rects);
        rects[length++] = start;
        rects[length++] = top;
        rects[length++] = c - start;
        rects[length++] = height;
      }
    }
    top += height;
  }
  return rects.slice(0, length);
}

let kept = new Int32Array(0);
const scratch = (size: number): Int32Array =>
  (kept.length < size ? (kept = new Int32Array(size)) : kept).subarray(0, size);

/** Scratch memory for joining rectangles. */
let rects = new Int32Array(4096);

function enlarged(array: Int32Array): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(array.length * 2);
  larger.set(array);
  return larger;
}

/** Moves a drawing's items by `dx`, `dy` mm. */
export function moved(items: readonly DrawItem[], dx: number, dy: number): DrawItem[] {
  if (dx === 0 && dy === 0) return [...items];
  return items.map((item) => ({
    ...item,
    x: item.x + dx,
    y: item.y + dy,
    ...(item.kind === 'clip' ? { items: moved(item.items, dx, dy) } : {}),
  }));
}
