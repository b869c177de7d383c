import { short } from './numbers';

/**
 * Outlines as a flat row of numbers: 0 x y moves, 1 x y draws a line, 2 x1 y1 x2 y2 x y a cubic
 * curve, 3 closes. Filled by the non-zero rule. Coordinates are in the unit of whoever draws them.
 */
export type Path = readonly number[];

const moveTo = 0;
const lineTo = 1;
const curveTo = 2;
const close = 3;
const lengths = [3, 3, 7, 1];
/** Handle length of a quarter circle of radius 1, as a cubic curve. */
const kappa = 0.5522847498;

export const rectPath = (x: number, y: number, width: number, height: number): number[] => [
  ...[moveTo, x, y, lineTo, x + width, y],
  ...[lineTo, x + width, y + height, lineTo, x, y + height, close],
];

export function polygonPath(points: readonly (readonly [number, number])[]): number[] {
  return [...points.flatMap(([x, y], i) => [i === 0 ? moveTo : lineTo, x, y]), close];
}

/**
 * A rectangle with a radius for each corner, from the top left clockwise. `reverse` turns it the
 * other way, to cut a hole.
 */
export function roundedPath(
  x: number,
  y: number,
  width: number,
  height: number,
  radii: readonly [number, number, number, number],
  reverse = false,
): number[] {
  const [a, b, c, d] = radii.map((r) => Math.min(r, width / 2, height / 2));
  const [right, bottom] = [x + width, y + height];
  const k = 1 - kappa;
  if (reverse)
    return [
      ...[moveTo, x + a, y],
      ...(a ? [curveTo, x + a * k, y, x, y + a * k, x, y + a] : [lineTo, x, y]),
      ...[lineTo, x, bottom - d],
      ...(d ? [curveTo, x, bottom - d * k, x + d * k, bottom, x + d, bottom] : []),
      ...[lineTo, right - c, bottom],
      ...(c ? [curveTo, right - c * k, bottom, right, bottom - c * k, right, bottom - c] : []),
      ...[lineTo, right, y + b],
      ...(b ? [curveTo, right, y + b * k, right - b * k, y, right - b, y] : []),
      close,
    ];
  return [
    ...[moveTo, x + a, y, lineTo, right - b, y],
    ...(b ? [curveTo, right - b * k, y, right, y + b * k, right, y + b] : []),
    ...[lineTo, right, bottom - c],
    ...(c ? [curveTo, right, bottom - c * k, right - c * k, bottom, right - c, bottom] : []),
    ...[lineTo, x + d, bottom],
    ...(d ? [curveTo, x + d * k, bottom, x, bottom - d * k, x, bottom - d] : []),
    ...[lineTo, x, y + a],
    ...(a ? [curveTo, x, y + a * k, x + a * k, y, x + a, y] : []),
    close,
  ];
}

export const circlePath = (x: number, y: number, r: number, reverse = false): number[] =>
  roundedPath(x - r, y - r, 2 * r, 2 * r, [r, r, r, r], reverse);

/** Calls `visit` with each command and where its numbers begin. */
function eachCommand(path: Path, visit: (command: number, at: number) => void): void {
  for (let i = 0; i < path.length; i += lengths[path[i]]) visit(path[i], i + 1);
}

/** The path with every point moved by `map`. */
export function mapPath(
  path: Path,
  map: (x: number, y: number) => readonly [number, number],
): number[] {
  const out: number[] = [];
  eachCommand(path, (command, at) => {
    out.push(command);
    for (let i = at; i < at + lengths[command] - 1; i += 2) out.push(...map(path[i], path[i + 1]));
  });
  return out;
}

/** The path in the letters of SVG, or of PDF and PostScript, which put the numbers first. */
export function pathText(path: Path, kind: 'svg' | 'postfix', places = 3): string {
  let out = '';
  eachCommand(path, (command, at) => {
    const numbers = path.slice(at, at + lengths[command] - 1).map((n) => short(n, places));
    if (kind === 'svg') out += 'MLCZ'[command] + numbers.join(' ');
    else out += `${numbers.join(' ')}${numbers.length ? ' ' : ''}${'mlch'[command]}\n`;
  });
  return out;
}

/**
 * Straight edges x0, y0, x1, y1, four numbers each, and the box round them. Curves become chords,
 * more for longer ones.
 */
export interface Edges {
  edges: Float64Array;
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
}

const flattened = new WeakMap<Path, Edges>();

export function edgesOf(path: Path): Edges {
  const known = flattened.get(path);
  if (known) return known;
  const edges: number[] = [];
  let [x, y, startX, startY] = [0, 0, 0, 0];
  const line = (toX: number, toY: number) => {
    edges.push(x, y, toX, toY);
    [x, y] = [toX, toY];
  };
  eachCommand(path, (command, at) => {
    if (command === moveTo) [startX, startY] = [x, y] = [path[at], path[at + 1]];
    else if (command === lineTo) line(path[at], path[at + 1]);
    else if (command === close) line(startX, startY);
    else {
      const [x0, y0] = [x, y];
      // a length of one unit, a module, takes three chords: less than a hundredth of it off the
      // curve
      const steps = Math.max(
        2,
        Math.min(12, Math.ceil(3 * Math.sqrt(Math.hypot(path[at + 4] - x, path[at + 5] - y)))),
      );
      for (let i = 1; i <= steps; i++) {
        const t = i / steps;
        const u = 1 - t;
        const part = (a: number, b: number, c: number, d: number) =>
          u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d;
        line(
          part(x0, path[at], path[at + 2], path[at + 4]),
          part(y0, path[at + 1], path[at + 3], path[at + 5]),
        );
      }
    }
  });
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < edges.length; i += 2) {
    minX = Math.min(minX, edges[i]);
    maxX = Math.max(maxX, edges[i]);
    minY = Math.min(minY, edges[i + 1]);
    maxY = Math.max(maxY, edges[i + 1]);
  }
  const result = { edges: Float64Array.from(edges), minX, minY, maxX, maxY };
  flattened.set(path, result);
  return result;
}
