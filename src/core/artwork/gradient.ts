import { parseColour } from '../look/colour';
import type { Gradient } from '../drawing/drawing';
import { circlePath, mapPath, polygonPath } from '../drawing/path';

const steps = 48;

/** A colour between two, `at` 0 to 1. */
export function mixed(from: string, to: string, at: number): string {
  const a = parseColour(from) ?? { r: 0, g: 0, b: 0 };
  const b = parseColour(to) ?? a;
  const part = (x: number, y: number) =>
    Math.round(x + (y - x) * at)
      .toString(16)
      .padStart(2, '0');
  return `#${part(a.r, b.r)}${part(a.g, b.g)}${part(a.b, b.b)}`;
}

/**
 * A gradient as bands of one colour each, to be painted in order within a clip: the same in PDF and
 * PostScript, without patterns that some printers draw their own way.
 */
export function gradientBands({
  from,
  to,
  direction,
  box,
}: Gradient): { colour: string; path: number[] }[] {
  const { x, y, width, height } = box;
  return Array.from({ length: steps }, (_, i) => {
    if (direction === 'outwards') {
      // from the outside in, so that each covers the middle of the one before
      const at = 1 - i / steps;
      const path = mapPath(circlePath(0, 0, at * Math.SQRT1_2), (u, v) => [
        x + width / 2 + u * width,
        y + height / 2 + v * height,
      ]);
      return { colour: mixed(from, to, (steps - 1 - i) / (steps - 1)), path };
    }
    const [u, v] = [i / steps, 1 + 0.01];
    const colour = mixed(from, to, i / (steps - 1));
    if (direction === 'across')
      return {
        colour,
        path: polygonPath([
          [x + u * width, y],
          [x + v * width, y],
          [x + v * width, y + height],
          [x + u * width, y + height],
        ]),
      };
    if (direction === 'down')
      return {
        colour,
        path: polygonPath([
          [x, y + u * height],
          [x + width, y + u * height],
          [x + width, y + v * height],
          [x, y + v * height],
        ]),
      };
    // slanting: everything beyond the line u + v = 2 × at
    const k = 2 * u;
    return {
      colour,
      path: polygonPath([
        [x + k * width, y],
        [x + 3 * width, y],
        [x + 3 * width, y + 3 * height],
        [x + (k - 3) * width, y + 3 * height],
      ]),
    };
  });
}
