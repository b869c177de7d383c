import { mapped } from '../base/tuple';
import { circlePath, polygonPath, rectPath, roundedPath, type Path } from '../drawing/path';
import { symbolRects } from '../drawing/drawing';
import { symbologies } from '../symbology';
import type { CodeSymbol } from '../symbology/types';

/**
 * Shapes of modules. Our own names: a seed is a disc, a pebble rounds free corners, reeds are
 * upright, tides are level, gems are diamonds.
 */
export const moduleShapes = ['square', 'seed', 'pebble', 'reed', 'tide', 'gem'] as const;
export type ModuleShape = (typeof moduleShapes)[number];

/**
 * Shapes of the finders of the QR family: squares, rounded, rings, or rounded at two opposite
 * corners.
 */
export const finderShapes = ['square', 'pebble', 'ring', 'leaf'] as const;
export type FinderShape = (typeof finderShapes)[number];

/** Whether the modules of a symbol may have another shape. */
export const takesShapes = ({ symbology }: CodeSymbol): boolean =>
  symbologies[symbology].shaped ?? false;

/** Top left corners of the 7 × 7 finders of the QR family; none in other symbologies. */
export const findersOf = (symbol: CodeSymbol): [row: number, column: number][] =>
  symbologies[symbol.symbology].finders?.(symbol) ?? [];

/**
 * Whether a module belongs to a pattern by which a reader finds the symbol, so that it stays a full
 * square.
 */
const isGuide = (symbol: CodeSymbol, r: number, c: number): boolean =>
  symbologies[symbol.symbology].isGuide?.(symbol, r, c) ?? false;

function finderPath(shape: FinderShape, r: number, c: number): number[] {
  if (shape === 'ring')
    return [
      ...circlePath(c + 3.5, r + 3.5, 3.5),
      ...circlePath(c + 3.5, r + 3.5, 2.5, true),
      ...circlePath(c + 3.5, r + 3.5, 1.5),
    ];
  const radii = (size: number): [number, number, number, number] =>
    shape === 'square'
      ? [0, 0, 0, 0]
      : shape === 'pebble'
        ? [size, size, size, size]
        : [size, 0, size, 0];
  return [
    ...roundedPath(c, r, 7, 7, radii(shape === 'leaf' ? 3 : 2)),
    ...roundedPath(c + 1, r + 1, 5, 5, radii(shape === 'leaf' ? 2 : 1.2), true),
    ...roundedPath(c + 2, r + 2, 3, 3, radii(shape === 'leaf' ? 1.4 : 0.9)),
  ];
}

export interface ShapeOptions {
  modules: ModuleShape;
  finders: FinderShape;
  /**
   * Narrower by this many modules at every edge between dark and light, against the spread of ink.
   */
  reduce: number;
  /** True where a module is left out for a logo. */
  cleared?: (r: number, c: number) => boolean;
}

/** The dark area of a symbol as an outline in modules, from its top left. */
export function shapedPath(
  symbol: CodeSymbol,
  { modules: shape, finders, reduce, cleared }: ShapeOptions,
): Path {
  if (symbol.hexagons) return hexagonPath(symbol, reduce);
  const { columns, rows, modules } = symbol;
  if (!takesShapes(symbol)) return barsPath(symbol, reduce);
  const out: number[] = [];
  const corners = findersOf(symbol);
  const inFinder = (r: number, c: number) =>
    corners.some(([y, x]) => r >= y && r < y + 7 && c >= x && c < x + 7);
  const dark = (r: number, c: number): boolean =>
    r >= 0 &&
    c >= 0 &&
    r < rows &&
    c < columns &&
    modules[r * columns + c] === 1 &&
    !cleared?.(r, c);
  const free = (r: number, c: number) => dark(r, c) && !inFinder(r, c);
  const half = reduce / 2;
  for (const [r, c] of corners) out.push(...finderPath(finders, r, c));
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      if (!free(r, c)) continue;
      const guide = isGuide(symbol, r, c);
      if (shape === 'seed' && !guide) out.push(...circlePath(c + 0.5, r + 0.5, 0.47 - half));
      else if (shape === 'gem' && !guide) {
        const d = 0.6 - half;
        out.push(
          ...polygonPath([
            [c + 0.5, r + 0.5 - d],
            [c + 0.5 + d, r + 0.5],
            [c + 0.5, r + 0.5 + d],
            [c + 0.5 - d, r + 0.5],
          ]),
        );
      } else if (shape === 'pebble' && !guide) {
        const [up, right, down, left] = [
          free(r - 1, c),
          free(r, c + 1),
          free(r + 1, c),
          free(r, c - 1),
        ];
        const edge = (joined: boolean) => (joined ? 0 : half);
        const round = (a: boolean, b: boolean) => (a || b ? 0 : 0.42);
        out.push(
          ...roundedPath(
            c + edge(left),
            r + edge(up),
            1 - edge(left) - edge(right),
            1 - edge(up) - edge(down),
            [round(up, left), round(up, right), round(down, right), round(down, left)],
          ),
        );
      } else if ((shape === 'reed' || shape === 'tide') && !guide) {
        const standing = shape === 'reed';
        const same = (k: number) =>
          standing
            ? free(r + k, c) && !isGuide(symbol, r + k, c)
            : free(r, c + k) && !isGuide(symbol, r, c + k);
        if (same(-1)) continue;
        let length = 1;
        while (same(length)) length++;
        const w = 0.84 - reduce;
        const side = (1 - w) / 2;
        const radius = w / 2;
        out.push(
          ...(standing
            ? roundedPath(c + side, r + half, w, length - reduce, [radius, radius, radius, radius])
            : roundedPath(c + half, r + side, length - reduce, w, [
                radius,
                radius,
                radius,
                radius,
              ])),
        );
      } else {
        const [up, right, down, left] = mapped(
          [dark(r - 1, c), dark(r, c + 1), dark(r + 1, c), dark(r, c - 1)],
          (joined) => (joined ? 0 : half),
        );
        out.push(...rectPath(c + left, r + up, 1 - left - right, 1 - up - down));
      }
    }
  return out;
}

/** Bars and rows of bars, each narrower by `reduce`. */
function barsPath(symbol: CodeSymbol, reduce: number): number[] {
  const rects = symbolRects(symbol);
  const out: number[] = [];
  for (let i = 0; i < rects.length; i += 4)
    out.push(
      ...rectPath(rects[i]! + reduce / 2, rects[i + 1]!, rects[i + 2]! - reduce, rects[i + 3]!),
    );
  return out;
}

/** Distance of two rows of hexagons, in modules, and their height from point to point. */
const hexagonRow = Math.sqrt(3) / 2;
const hexagonHeight = 2 / Math.sqrt(3);
/**
 * Radii of the rings of MaxiCode's finder, in modules (ISO/IEC 16023: nine modules across, rings of
 * equal breadth).
 */
const rings = [4.5, 3.716, 2.932, 2.148, 1.364, 0.58];

/**
 * True hexagons, points up, with the gap between neighbours that the standard leaves for ink, and
 * the finder of three rings.
 */
function hexagonPath({ columns, rows, modules }: CodeSymbol, reduce: number): number[] {
  const out: number[] = [];
  const radius = hexagonHeight / 2 - 0.08 - reduce / 2;
  const corners = [0, 1, 2, 3, 4, 5].map((k) => ({
    dx: radius * Math.sin((k * Math.PI) / 3),
    dy: radius * Math.cos((k * Math.PI) / 3),
  }));
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      if (modules[r * columns + c] === 0) continue;
      const x = c + 0.5 + (r % 2) / 2;
      const y = hexagonHeight / 2 + r * hexagonRow;
      for (const [k, { dx, dy }] of corners.entries()) out.push(k === 0 ? 0 : 1, x + dx, y - dy);
      out.push(3);
    }
  const x = 14.5;
  const y = hexagonHeight / 2 + 16 * hexagonRow;
  rings.forEach((r, i) => out.push(...circlePath(x, y, r, i % 2 === 1)));
  return out;
}
