import type { CodeSymbol } from '../symbology/types';

/**
 * The one display list from which every output is made. Lengths in mm, origin at the top left, y downwards.
 * Later items lie over earlier ones.
 */
export interface Drawing {
  widthMm: number;
  heightMm: number;
  items: DrawItem[];
}

export type DrawItem = RectItem | CodeItem | TextItem;

export interface RectItem {
  kind: 'rect';
  x: number;
  y: number;
  width: number;
  height: number;
  /** `#rrggbb`. */
  fill: string;
}

export interface CodeItem {
  kind: 'code';
  symbol: CodeSymbol;
  /** Top left of the symbol without quiet zone. */
  x: number;
  y: number;
  moduleMm: number;
  fill: string;
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
}

export interface PlacedGlyph {
  /** Glyph number in the whole font. */
  id: number;
  /** Distance from the start of the line, in mm. */
  x: number;
  /** Raised above the baseline, in mm. */
  dy: number;
  /** The text it stands for; empty for all but the first glyph of a cluster. */
  text: string;
}

/** Height of a symbol in modules without quiet zone: its rows may be higher than one module. */
export const symbolHeight = (symbol: CodeSymbol): number => symbol.rowHeights?.reduce((sum, h) => sum + h, 0) ?? symbol.rows;

/**
 * The dark area of a symbol as rectangles `x, y, width, height` in modules, four numbers each.
 * Runs along a row are one rectangle; equal runs in following rows are joined.
 */
export function symbolRects(symbol: CodeSymbol): Int32Array {
  const { columns, rows, modules, rowHeights } = symbol;
  const open = new Int32Array(columns * columns).fill(-1);
  const rects: number[] = [];
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
      const known = open[key];
      if (known >= 0 && rects[known + 1] + rects[known + 3] === top) rects[known + 3] += height;
      else {
        open[key] = rects.length;
        rects.push(start, top, c - start, height);
      }
    }
    top += height;
  }
  return Int32Array.from(rects);
}

/** Moves a drawing's items by `dx`, `dy` mm. */
export function moved(items: readonly DrawItem[], dx: number, dy: number): DrawItem[] {
  return items.map((item) => ({ ...item, x: item.x + dx, y: item.y + dy }));
}
