import { BitBuffer } from '../bits';
import { coderFor, GaloisField } from '../galois';
import { EncodeError, type MatrixSymbol } from '../types';
import {
  prefixBitsOf,
  qrModes,
  shortestSegments,
  toUnits,
  writeUnits,
  type Segmentation,
  type Units,
} from './segments';
import type { QrLevel } from './tables';
import { withRemainder } from './template';

/**
 * Rectangular Micro QR Code (ISO/IEC 23941): 32 sizes from 7 × 43 to 17 × 139 modules, levels M and
 * H. Proven module by module for every size and level against an independent writer
 * (tests/core/symbology/small-qr.test.ts).
 */
export interface RmqrOptions {
  /** M or H; L and Q are raised to the next of the two. */
  level?: QrLevel;
  raiseLevel?: boolean;
  /** Force one of the 32 sizes, as rows × columns. */
  size?: readonly [rows: number, columns: number];
  /** Greatest height in modules: 7, 9, 11, 13, 15 or 17. The smallest area that fits is taken. */
  maxRows?: number;
  eci?: 'auto' | 'never';
  gs1?: boolean;
}

interface Size {
  index: number;
  rows: number;
  columns: number;
}

const sizes: readonly Size[] = [7, 9, 11, 13, 15, 17]
  .flatMap((rows) =>
    (rows === 11 || rows === 13 ? [27, 43, 59, 77, 99, 139] : [43, 59, 77, 99, 139]).map(
      (columns) => ({ rows, columns }),
    ),
  )
  .map((size, index) => ({ index, ...size }));

// prettier-ignore
const dataWords = {
  M: [6,12,20,28,44, 12,21,31,42,63, 7,19,31,43,57,84, 12,27,38,53,73,106, 33,48,67,88,127, 39,56,78,100,152],
  H: [3,7,10,14,24, 7,11,17,22,33, 5,11,15,23,29,42, 7,13,20,29,35,54, 15,26,31,48,69, 21,28,38,56,76],
};
// prettier-ignore
const blockCounts = {
  M: [1,1,1,1,1, 1,1,1,1,2, 1,1,1,1,2,2, 1,1,1,2,2,3, 1,1,2,2,3, 1,2,2,3,4],
  H: [1,1,1,1,2, 1,1,2,2,3, 1,1,2,2,2,3, 1,1,2,2,3,4, 2,2,3,4,5, 2,2,3,4,6],
};

/** Columns with an alignment pattern at the top and the bottom edge, by width. */
const alignment: Readonly<Record<number, readonly number[]>> = {
  27: [],
  43: [21],
  59: [19, 39],
  77: [25, 51],
  99: [23, 49, 75],
  139: [27, 55, 83, 111],
};

type Level = 'M' | 'H';

/**
 * Bits of the character count per mode: as few as can say the most that the size holds at level M.
 * (The standard prints them as a table; this rule gives that table.)
 */
const countBits = dataWords.M.map((words) =>
  [10 / 3, 5.5, 8, 13].map((perUnit) => {
    for (let count = 1; ; count++)
      if (Math.floor((words * 8 - 3 - count) / perUnit + 1e-9) < 2 ** count) return count;
  }),
);

const field = new GaloisField(0x11d, 256);
const modeIndicators = [1, 2, 3, 4];

interface Plan {
  size: Size;
  level: Level;
  units: Units;
  segmentation: Segmentation;
}

/**
 * Chooses size, level and segments: of the sizes allowed the one with the smallest area.
 * @throws EncodeError when the payload is empty or too long, or the size does not exist
 */
export function planRmqr(payload: string | Uint8Array, options: RmqrOptions = {}): Plan {
  if (payload.length === 0)
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  const units = toUnits(payload, options);
  const wanted: Level = options.level === 'Q' || options.level === 'H' ? 'H' : 'M';
  const allowed = sizes
    .filter((s) =>
      options.size
        ? s.rows === options.size[0] && s.columns === options.size[1]
        : s.rows <= (options.maxRows ?? 17),
    )
    .sort((a, b) => a.rows * a.columns - b.rows * b.columns);
  if (allowed.length === 0)
    throw new EncodeError(
      'option',
      options.size
        ? `rMQR code has no size ${options.size.join(' × ')}.`
        : 'rMQR code is at least 7 squares high.',
    );
  for (const size of allowed) {
    const segmentation = shortestSegments(
      units,
      countBits[size.index]!.map((bits) => bits + 3),
    );
    if (!segmentation) continue;
    const bits = segmentation.bits + prefixBitsOf(units, 3);
    if (bits > dataWords[wanted][size.index]! * 8) continue;
    const level =
      (options.raiseLevel ?? true) && bits <= dataWords.H[size.index]! * 8 ? 'H' : wanted;
    return { size, level, units, segmentation };
  }
  throw new EncodeError(
    'length',
    `Too long: ${payload.length} characters. The largest rMQR code holds about ${wanted === 'M' ? 150 : 74} letters at level ${wanted}.`,
    {
      mend: 'Shorten it, or use a QR code.',
    },
  );
}

/** Codewords with padding, cut into blocks, check words added, interleaved. */
function codewords({ size, level, units, segmentation }: Plan, total: number): Uint8Array {
  const words = dataWords[level][size.index]!;
  const blocks = blockCounts[level][size.index]!;
  const buffer = new BitBuffer(words);
  if (units.eci) {
    buffer.append(7, 3);
    buffer.append(units.eci, 8);
  }
  if (units.gs1) buffer.append(5, 3);
  for (const { mode, from, to } of segmentation.segments) {
    buffer.append(modeIndicators[mode]!, 3);
    writeUnits(units, mode, from, to, countBits[size.index]![mode]!, buffer);
  }
  buffer.append(0, Math.min(3, words * 8 - buffer.length));
  const data = new Uint8Array(words);
  const used = buffer.toBytes();
  data.set(used);
  for (let i = used.length, pad = 0xec; i < words; i++, pad ^= 0xec ^ 0x11) data[i] = pad;
  const shortTotal = Math.floor(total / blocks);
  const shortBlocks = blocks - (total % blocks);
  const check = shortTotal - Math.floor(words / blocks);
  const coder = coderFor(field, check);
  const parts = Array.from({ length: blocks }, (_, b) => {
    const before = Math.floor(words / blocks);
    const from = b * before + Math.max(0, b - shortBlocks);
    const part = data.subarray(from, from + before + (b >= shortBlocks ? 1 : 0));
    const out = new Uint8Array(check);
    coder.encode(part, 0, part.length, out, 0);
    return { part, out };
  });
  const out: number[] = [];
  for (let i = 0; i <= Math.floor(words / blocks); i++)
    for (const { part } of parts) if (i < part.length) out.push(part[i]!);
  for (let i = 0; i < check; i++) for (const part of parts) out.push(part.out[i]!);
  return Uint8Array.from(out);
}

interface Template {
  /** Function patterns and mask, without format information. */
  modules: Uint8Array;
  /** Data modules in placement order. */
  places: Int32Array;
}

const templates = new Map<number, Template>();

/** Everything of a size that does not depend on the payload. */
function templateOf({ index, rows, columns }: Size): Template {
  const known = templates.get(index);
  if (known) return known;
  const modules = new Uint8Array(rows * columns);
  const isFunction = new Uint8Array(rows * columns);
  const set = (r: number, c: number, dark: boolean | number) => {
    if (r < 0 || c < 0 || r >= rows || c >= columns) return;
    isFunction[r * columns + c] = 1;
    modules[r * columns + c] = dark ? 1 : 0;
  };
  for (let c = 0; c < columns; c++) for (const r of [0, rows - 1]) set(r, c, c % 2 === 0);
  for (const c of [0, ...alignment[columns]!, columns - 1])
    for (let r = 0; r < rows; r++) set(r, c, r % 2 === 0);
  for (const c0 of alignment[columns]!)
    for (const r0 of [1, rows - 2])
      for (let r = r0 - 1; r <= r0 + 1; r++)
        for (let c = c0 - 1; c <= c0 + 1; c++) set(r, c, !(r === r0 && c === c0));
  // finder with its separator, the smaller finder opposite, and the two corners
  for (let r = 0; r < 8; r++)
    for (let c = 0; c < 8; c++) {
      const ring = Math.max(Math.abs(r - 3), Math.abs(c - 3));
      set(r, c, ring !== 2 && ring !== 4);
    }
  for (let r = -2; r <= 2; r++)
    for (let c = -2; c <= 2; c++)
      set(rows - 3 + r, columns - 3 + c, Math.max(Math.abs(r), Math.abs(c)) !== 1);
  for (let k = 1; k <= 3; k++) set(0, columns - k, true);
  set(1, columns - 1, true);
  set(1, columns - 2, false);
  if (rows > 7) for (let c = 0; c < 3; c++) set(rows - 1, c, true);
  if (rows > 9) {
    set(rows - 2, 0, true);
    set(rows - 2, 1, false);
  }
  for (const place of formatPlaces(rows, columns).flat()) isFunction[place] = 1;
  const places: number[] = [];
  for (let c0 = columns - 2, up = true; c0 > 0; c0 -= 2, up = !up)
    for (let i = 0; i < rows; i++) {
      const r = up ? rows - 1 - i : i;
      for (const c of [c0, c0 - 1]) if (!isFunction[r * columns + c]) places.push(r * columns + c);
    }
  for (const place of places)
    modules[place] =
      (Math.floor(Math.floor(place / columns) / 2) + Math.floor((place % columns) / 3)) % 2 === 0
        ? 1
        : 0;
  const template = { modules, places: Int32Array.from(places) };
  templates.set(index, template);
  return template;
}

/**
 * The two places of each of the 18 format bits, least significant first, as indices into the
 * modules.
 */
const formatPlaces = (rows: number, columns: number): [number, number][] =>
  Array.from({ length: 18 }, (_, i) => [
    (1 + (i % 5)) * columns + 8 + Math.floor(i / 5),
    i < 15
      ? (rows - 6 + (i % 5)) * columns + columns - 8 + Math.floor(i / 5)
      : (rows - 6) * columns + columns - 5 + i - 15,
  ]);

/** Encodes a payload as Rectangular Micro QR Code. */
export function encodeRmqr(payload: string | Uint8Array, options: RmqrOptions = {}): MatrixSymbol {
  const plan = planRmqr(payload, options);
  const { rows, columns, index } = plan.size;
  const { modules: fixed, places } = templateOf(plan.size);
  const modules = fixed.slice();
  const format = withRemainder(index | (plan.level === 'H' ? 32 : 0), 0x1f25, 12);
  formatPlaces(rows, columns).forEach(([left, right], i) => {
    modules[left] = ((format ^ 0x1fab2) >> i) & 1;
    modules[right] = ((format ^ 0x20a7b) >> i) & 1;
  });
  const words = codewords(plan, places.length >> 3);
  for (let i = 0; i < words.length * 8; i++)
    modules[places[i]!]! ^= (words[i >> 3]! >> (7 - (i & 7))) & 1;
  return {
    kind: 'matrix',
    symbology: 'rmqr',
    columns,
    rows,
    modules,
    quietZone: { top: 2, right: 2, bottom: 2, left: 2 },
    payload,
    facts: {
      size: `${rows} × ${columns}`,
      level: plan.level,
      modes: plan.segmentation.segments.map((s) => qrModes[s.mode]).join(' '),
    },
  };
}
