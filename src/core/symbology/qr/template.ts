import { maskConditions } from './masks';
import { alignmentCentres, levelBits, qrSize, type QrLevel } from './tables';

/** Everything of a version that does not depend on the payload. */
export interface Template {
  version: number;
  size: number;
  /**
   * 32-bit words in a row of bits. A row holds the symbol's row and, right behind it, the same row
   * of the transposed symbol, so that patterns in both directions are weighed in one go.
   */
  words: number;
  /** Index into these rows of each data module, in placement order: word << 5 | bit. */
  order: Int32Array;
  /** The same in the transposed half. */
  turnedOrder: Int32Array;
  /** 1 where a module belongs to a finder, timing, alignment, format or version pattern. */
  isFunction: Uint8Array;
  fixed: Uint8Array;
  overlays: Map<number, Overlay>;
}

/**
 * What turns bare data bits into a finished symbol by exclusive or: function patterns, format
 * information and one mask.
 */
export type Overlay = Int32Array;

const templates = new Map<number, Template>();

export function templateFor(version: number): Template {
  let template = templates.get(version);
  if (!template) templates.set(version, (template = buildTemplate(version)));
  return template;
}

export function overlayFor(template: Template, level: QrLevel, mask: number): Overlay {
  const key = levelBits[level] * 8 + mask;
  let overlay = template.overlays.get(key);
  if (!overlay) template.overlays.set(key, (overlay = buildOverlay(template, level, mask)));
  return overlay;
}

/**
 * Remainder of a polynomial division over GF(2), appended to the value: the BCH codes of format and
 * version information.
 */
export function withRemainder(value: number, generator: number, checkBits: number): number {
  let rest = value << checkBits;
  const top = 31 - Math.clz32(generator);
  while (rest !== 0 && 31 - Math.clz32(rest) >= top)
    rest ^= generator << (31 - Math.clz32(rest) - top);
  return (value << checkBits) | rest;
}

function buildTemplate(version: number): Template {
  const size = qrSize(version);
  const words = (2 * size + 31) >> 5;
  const isFunction = new Uint8Array(size * size);
  const fixed = new Uint8Array(size * size);
  const set = (r: number, c: number, dark: boolean) => {
    if (r < 0 || c < 0 || r >= size || c >= size) return;
    isFunction[r * size + c] = 1;
    fixed[r * size + c] = dark ? 1 : 0;
  };
  for (let i = 0; i < size; i++) {
    set(6, i, i % 2 === 0);
    set(i, 6, i % 2 === 0);
  }
  for (const [r0, c0] of [
    [3, 3],
    [3, size - 4],
    [size - 4, 3],
  ])
    for (let dr = -4; dr <= 4; dr++)
      for (let dc = -4; dc <= 4; dc++) {
        const ring = Math.max(Math.abs(dr), Math.abs(dc));
        set(r0! + dr, c0! + dc, ring !== 2 && ring !== 4);
      }
  const centres = alignmentCentres(version);
  const last = centres.length - 1;
  centres.forEach((r, i) =>
    centres.forEach((c, j) => {
      if ((i === 0 && j === 0) || (i === 0 && j === last) || (i === last && j === 0)) return;
      for (let dr = -2; dr <= 2; dr++)
        for (let dc = -2; dc <= 2; dc++)
          set(r + dr, c + dc, Math.max(Math.abs(dr), Math.abs(dc)) !== 1);
    }),
  );
  for (const [r, c] of formatPositions(size).flat()) set(r, c, false);
  set(size - 8, 8, true);
  if (version >= 7) {
    const information = withRemainder(version, 0x1f25, 12);
    for (let i = 0; i < 18; i++) {
      const bit = ((information >> i) & 1) === 1;
      const a = size - 11 + (i % 3);
      const b = Math.floor(i / 3);
      set(b, a, bit);
      set(a, b, bit);
    }
  }
  const order: number[] = [];
  const turned: number[] = [];
  for (let right = size - 1; right > 0; right -= 2) {
    if (right === 6) right = 5;
    const upward = ((right + 1) & 2) === 0;
    for (let i = 0; i < size; i++) {
      const r = upward ? size - 1 - i : i;
      for (const c of [right, right - 1]) {
        if (isFunction[r * size + c]) continue;
        order.push(((r * words + (c >> 5)) << 5) | (c & 31));
        turned.push(((c * words + ((size + r) >> 5)) << 5) | ((size + r) & 31));
      }
    }
  }
  return {
    version,
    size,
    words,
    isFunction,
    fixed,
    order: Int32Array.from(order),
    turnedOrder: Int32Array.from(turned),
    overlays: new Map(),
  };
}

/** The two places of each of the 15 format bits, least significant first, as [row, column]. */
function formatPositions(size: number): [number, number][][] {
  const positions: [number, number][][] = [];
  for (let i = 0; i < 15; i++) {
    const first: [number, number] =
      i < 6 ? [i, 8] : i === 6 ? [7, 8] : i === 7 ? [8, 8] : i === 8 ? [8, 7] : [8, 14 - i];
    const second: [number, number] = i < 8 ? [8, size - 1 - i] : [size - 15 + i, 8];
    positions.push([first, second]);
  }
  return positions;
}

function buildOverlay(template: Template, level: QrLevel, mask: number): Overlay {
  const { size, words, isFunction, fixed } = template;
  const bits = new Int32Array(size * words);
  const set = (r: number, c: number) => {
    bits[r * words + (c >> 5)]! |= 1 << (c & 31);
    bits[c * words + ((size + r) >> 5)]! |= 1 << ((size + r) & 31);
  };
  const condition = maskConditions[mask]!;
  for (let r = 0; r < size; r++)
    for (let c = 0; c < size; c++)
      if (isFunction[r * size + c] ? fixed[r * size + c] : condition(r, c)) set(r, c);
  const format = withRemainder((levelBits[level] << 3) | mask, 0x537, 10) ^ 0x5412;
  formatPositions(size).forEach((places, i) => {
    if ((format >> i) & 1) for (const [r, c] of places) set(r, c);
  });
  return bits;
}
