import { mapped } from '../base/tuple';
import { short } from './numbers';

/**
 * Outlines as a flat list of numbers: 0 x y moves, 1 x y draws a line, 2 x1 y1 x2 y2 x y a cubic
 * curve, 3 closes. Filled by the non-zero rule. Coordinates are in the unit of the caller.
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
  const [a, b, c, d] = mapped(radii, (r) => Math.min(r, width / 2, height / 2));
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

/** The path with every point moved by `map`. */
export function mapPath(
  path: Path,
  map: (x: number, y: number) => readonly [number, number],
): number[] {
  const out: number[] = [];
  for (let at = 0; at < path.length;) {
    const end = at + lengths[path[at]!]!;
    out.push(path[at]!);
    for (let i = at + 1; i < end; i += 2) {
      const [x, y] = map(path[i]!, path[i + 1]!);
      out.push(x, y);
    }
    at = end;
  }
  return out;
}

/** The path in the letters of SVG, or of PDF and PostScript, which put the numbers first. */
export function pathText(path: Path, kind: 'svg' | 'postfix', places = 3): string {
  let out = '';
  for (let at = 0; at < path.length;) {
    const command = path[at]!;
    const end = at + lengths[command]!;
    if (kind === 'svg') {
      out += 'MLCZ'[command];
      for (let i = at + 1; i < end; i++) out += short(path[i]!, places) + (i + 1 < end ? ' ' : '');
    } else {
      for (let i = at + 1; i < end; i++) out += `${short(path[i]!, places)} `;
      out += `${'mlch'[command]}\n`;
    }
    at = end;
  }
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
  let known = flattened.get(path);
  if (!known) flattened.set(path, (known = chordsOf(path)));
  return known;
}

/** Scratch memory for edges; most outlines have a few hundred. */
let bench = new Float64Array(4096);

function put(at: number, x0: number, y0: number, x1: number, y1: number): number {
  if (at + 4 > bench.length) {
    const longer = new Float64Array(bench.length * 2);
    longer.set(bench);
    bench = longer;
  }
  bench[at] = x0;
  bench[at + 1] = y0;
  bench[at + 2] = x1;
  bench[at + 3] = y1;
  return at + 4;
}

function chordsOf(path: Path): Edges {
  let length = 0;
  let [x, y, startX, startY] = [0, 0, 0, 0];
  for (let at = 0; at < path.length; at += lengths[path[at]!]!) {
    const command = path[at];
    if (command === moveTo) {
      startX = x = path[at + 1]!;
      startY = y = path[at + 2]!;
      continue;
    }
    if (command === curveTo) {
      const [x0, y0] = [x, y];
      const [x1, y1, x2, y2] = [path[at + 1]!, path[at + 2]!, path[at + 3]!, path[at + 4]!];
      const [x3, y3] = [path[at + 5]!, path[at + 6]!];
      // a length of one unit, a module, takes three chords: less than a hundredth of it off the
      // curve
      const far = Math.sqrt((x3 - x0) * (x3 - x0) + (y3 - y0) * (y3 - y0));
      const steps = Math.max(2, Math.min(12, Math.ceil(3 * Math.sqrt(far))));
      for (let k = 1; k <= steps; k++) {
        const t = k / steps;
        const u = 1 - t;
        const toX = u * u * u * x0 + 3 * u * u * t * x1 + 3 * u * t * t * x2 + t * t * t * x3;
        const toY = u * u * u * y0 + 3 * u * u * t * y1 + 3 * u * t * t * y2 + t * t * t * y3;
        length = put(length, x, y, toX, toY);
        x = toX;
        y = toY;
      }
      continue;
    }
    const [toX, toY] = command === close ? [startX, startY] : [path[at + 1], path[at + 2]];
    length = put(length, x, y, toX!, toY!);
    x = toX!;
    y = toY!;
  }
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < length; i += 2) {
    if (bench[i]! < minX) minX = bench[i]!;
    if (bench[i]! > maxX) maxX = bench[i]!;
    if (bench[i + 1]! < minY) minY = bench[i + 1]!;
    if (bench[i + 1]! > maxY) maxY = bench[i + 1]!;
  }
  return { edges: bench.slice(0, length), minX, minY, maxX, maxY };
}
