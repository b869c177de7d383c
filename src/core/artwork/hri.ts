import { hriAdvance, hriGlyphs } from './hri-glyphs';

const cache = new Map<number, number[]>();

/** Outline of a character at size 1, y upwards; quadratic curves become cubic ones. */
function glyph(code: number): number[] {
  let out = cache.get(code);
  if (out) return out;
  out = [];
  let [x, y] = [0, 0];
  for (const [, letter, rest] of (hriGlyphs.get(code) ?? hriGlyphs.get(63)!).matchAll(
    /([MLQCZ])([^MLQCZ]*)/g,
  )) {
    const n = rest === '' ? [] : rest!.split(' ').map((v) => Number(v) / 1000);
    if (letter === 'M') out.push(0, ...n);
    else if (letter === 'L') out.push(1, ...n);
    else if (letter === 'C') out.push(2, ...n);
    else if (letter === 'Q')
      out.push(
        2,
        x + (2 / 3) * (n[0]! - x),
        y + (2 / 3) * (n[1]! - y),
        n[2]! + (2 / 3) * (n[0]! - n[2]!),
        n[3]! + (2 / 3) * (n[1]! - n[3]!),
        n[2]!,
        n[3]!,
      );
    else out.push(3);
    if (n.length > 0) [x, y] = [n.at(-2)!, n.at(-1)!];
  }
  cache.set(code, out);
  return out;
}

const counts = [2, 2, 6, 0];

/**
 * Appends a line of text, centred on `x`, its baseline at `y`, `size` high, all in the unit of the
 * path.
 */
export function addLine(out: number[], text: string, x: number, y: number, size: number): void {
  const characters = Array.from(text);
  let pen = x - (characters.length * hriAdvance * size) / 2000;
  for (const character of characters) {
    const path = glyph(character.codePointAt(0)!);
    for (let i = 0; i < path.length; i += counts[path[i]!]! + 1) {
      out.push(path[i]!);
      for (let k = 1; k <= counts[path[i]!]!; k += 2)
        out.push(pen + path[i + k]! * size, y - path[i + k + 1]! * size);
    }
    pen += (hriAdvance * size) / 1000;
  }
}

/** Width of a text at size 1. */
export const lineWidth = (text: string): number => (Array.from(text).length * hriAdvance) / 1000;
