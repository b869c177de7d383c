import { BitBuffer, mostBytes } from '../bits';
import { coderFor, GaloisField } from '../galois';
import { EncodeError, type MatrixSymbol } from '../types';
import { writeAztec } from './encodation';

export interface AztecOptions {
  /**
   * Least share of the symbol's words for error correction, in %; 23 when left out, as the standard
   * recommends.
   */
  correction?: number;
  /** Force a number of layers; compact symbols have 1 to 4, full ones 1 to 32. */
  layers?: number;
  compact?: boolean;
}

/** Fields by word size in bits (ISO/IEC 24778); made when first needed. */
const primitives: Record<number, number> = { 4: 0x13, 6: 0x43, 8: 0x12d, 10: 0x409, 12: 0x1069 };
const fields = new Map<number, GaloisField>();
const fieldOf = (bits: number): GaloisField => {
  let field = fields.get(bits);
  if (!field) fields.set(bits, (field = new GaloisField(primitives[bits]!, 1 << bits)));
  return field;
};

const wordSize = (layers: number): number =>
  layers <= 2 ? 6 : layers <= 8 ? 8 : layers <= 22 ? 10 : 12;
const bitsOf = (layers: number, compact: boolean): number =>
  ((compact ? 88 : 112) + 16 * layers) * layers;

interface AztecPlan {
  compact: boolean;
  layers: number;
  words: number[];
}

/** Reads bit i of bytes, most significant first. */
const bitAt = (bytes: Uint8Array, i: number): number => (bytes[i >> 3]! >> (7 - (i & 7))) & 1;

/**
 * Cuts the bits into words of which none is all zeros or all ones: their last bit is then a stuffed
 * one.
 */
function stuff(bytes: Uint8Array, length: number, size: number): number[] {
  const words: number[] = [];
  const mask = (1 << size) - 2;
  for (let i = 0; i < length;) {
    let word = 0;
    for (let k = 0; k < size; k++) word = (word << 1) | (i + k < length ? bitAt(bytes, i + k) : 1);
    if ((word & mask) === mask || (word & mask) === 0) {
      words.push((word & mask) === 0 ? word | 1 : word & mask);
      i += size - 1;
    } else {
      words.push(word);
      i += size;
    }
  }
  return words;
}

/**
 * Chooses the smallest symbol, compact ones first, that leaves the wanted share for error
 * correction.
 * @throws EncodeError when the payload is empty or too long
 */
export function planAztec(payload: string | Uint8Array, options: AztecOptions = {}): AztecPlan {
  if (payload.length === 0)
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  const bytes = typeof payload === 'string' ? new TextEncoder().encode(payload) : payload;
  const out = new BitBuffer(bytes.length + 16);
  if (bytes.length <= 3832) {
    writeAztec(bytes, typeof payload === 'string' && bytes.length !== payload.length, out);
    const data = out.toBytes();
    const share = (options.correction ?? 23) / 100;
    for (let size = 1; size <= 36; size++) {
      const compact = size <= 4;
      const layers = compact ? size : size - 4;
      if (
        (options.layers !== undefined && options.layers !== layers) ||
        (options.compact !== undefined && options.compact !== compact)
      )
        continue;
      // a full symbol of up to three layers is not smaller than the compact one of one layer more
      if (!compact && layers < 4 && options.layers === undefined && options.compact === undefined)
        continue;
      const capacity = Math.floor(bitsOf(layers, compact) / wordSize(layers));
      if (out.length > bitsOf(layers, compact)) continue;
      const words = stuff(data, out.length, wordSize(layers));
      if (words.length > (compact ? 64 : 2048)) continue;
      if (
        words.length + Math.max(3, Math.ceil(capacity * share) + 3) <= capacity ||
        (share === 0 && words.length + 3 <= capacity)
      )
        return { compact, layers, words };
    }
  }
  throw new EncodeError(
    'length',
    `Too long: ${payload.length.toLocaleString('en')} characters do not fit an Aztec code with this much error correction.`,
    { mend: 'Shorten it.' },
  );
}

/**
 * Bytes of which the largest symbol holds any, with half of it for error correction: a byte takes
 * nine bits at most, the bits that are stuffed among them, and there are 19,968.
 */
const alwaysFits = 1000;

/**
 * Whether a payload can be encoded at all.
 * @throws EncodeError if `planAztec` does
 */
export function checkAztec(payload: string | Uint8Array, options: AztecOptions = {}): void {
  const free = options.layers === undefined && options.compact === undefined;
  const bytes = mostBytes(payload);
  if (free && (options.correction ?? 23) <= 50 && bytes > 0 && bytes <= alwaysFits) return;
  planAztec(payload, options);
}

/** Encodes a payload as Aztec Code (ISO/IEC 24778). It needs no quiet zone. */
export function encodeAztec(
  payload: string | Uint8Array,
  options: AztecOptions = {},
): MatrixSymbol {
  const { compact, layers, words } = planAztec(payload, options);
  const size = wordSize(layers);
  const total = bitsOf(layers, compact);
  const count = Math.floor(total / size);
  const all = new Uint16Array(count);
  all.set(words);
  coderFor(fieldOf(size), count - words.length, 1).encode(
    words,
    0,
    words.length,
    all,
    words.length,
  );
  const message = new BitBuffer((total >> 3) + 2);
  message.append(0, total % size);
  for (const word of all) message.append(word, size);
  const base = (compact ? 11 : 14) + layers * 4;
  const side = compact ? base : base + 1 + 2 * Math.floor((Math.floor(base / 2) - 1) / 15);
  const modules = new Uint8Array(side * side);
  const set = (x: number, y: number) => (modules[y * side + x] = 1);
  drawLayers(message.toBytes(), layers, compact, base, side, set);
  drawCentre(modeMessage(compact, layers, words.length), compact, base, side, set);
  return {
    kind: 'matrix',
    symbology: 'aztec',
    columns: side,
    rows: side,
    modules,
    quietZone: { top: 0, right: 0, bottom: 0, left: 0 },
    payload,
    facts: {
      form: compact ? 'compact' : 'full',
      layers,
      codewords: words.length,
      corrections: count - words.length,
    },
  };
}

/**
 * Data spirals inwards in pairs of modules; in full symbols the reference grid lies between them.
 */
function drawLayers(
  bits: Uint8Array,
  layers: number,
  compact: boolean,
  base: number,
  side: number,
  set: (x: number, y: number) => void,
): void {
  const place = new Int32Array(base);
  const half = Math.floor(base / 2);
  const centre = Math.floor(side / 2);
  for (let i = 0; i < base; i++) {
    if (compact) place[i] = i;
    else if (i >= half) place[i] = centre + 1 + (i - half) + Math.floor((i - half) / 15);
    else place[i] = centre - 1 - (half - 1 - i) - Math.floor((half - 1 - i) / 15);
  }
  let at = 0;
  for (let layer = 0; layer < layers; layer++) {
    const length = (layers - layer) * 4 + (compact ? 9 : 12);
    const near = layer * 2;
    const far = base - 1 - near;
    for (let j = 0; j < length; j++)
      for (let k = 0; k < 2; k++) {
        const bit = at + j * 2 + k;
        if (bitAt(bits, bit)) set(place[near + k]!, place[near + j]!);
        if (bitAt(bits, bit + length * 2)) set(place[near + j]!, place[far - k]!);
        if (bitAt(bits, bit + length * 4)) set(place[far - k]!, place[far - j]!);
        if (bitAt(bits, bit + length * 6)) set(place[far - j]!, place[near + k]!);
      }
    at += length * 8;
  }
}

/**
 * Layers and data words, with their own Reed-Solomon words over GF(16): 28 bits in compact symbols,
 * 40 in full ones.
 */
function modeMessage(compact: boolean, layers: number, dataWords: number): number[] {
  const value = compact
    ? ((layers - 1) << 6) | (dataWords - 1)
    : ((layers - 1) << 11) | (dataWords - 1);
  const length = compact ? 2 : 4;
  const words = new Uint16Array(compact ? 7 : 10);
  for (let i = 0; i < length; i++) words[i] = (value >> (4 * (length - 1 - i))) & 15;
  coderFor(fieldOf(4), words.length - length, 1).encode(words, 0, length, words, length);
  return Array.from(words).flatMap((word) => [8, 4, 2, 1].map((bit) => (word & bit ? 1 : 0)));
}

/** Bull's eye, orientation marks, mode message and, in full symbols, the reference grid. */
function drawCentre(
  mode: readonly number[],
  compact: boolean,
  base: number,
  side: number,
  set: (x: number, y: number) => void,
): void {
  const c = Math.floor(side / 2);
  const ring = compact ? 5 : 7;
  for (let i = 0; i < ring; i += 2)
    for (let j = -i; j <= i; j++) {
      set(c + j, c - i);
      set(c + j, c + i);
      set(c - i, c + j);
      set(c + i, c + j);
    }
  for (const [x, y] of [
    [-ring, -ring],
    [-ring + 1, -ring],
    [-ring, -ring + 1],
    [ring, -ring],
    [ring, -ring + 1],
    [ring, ring - 1],
  ])
    set(c + x!, c + y!);
  const quarter = mode.length / 4;
  for (let i = 0; i < quarter; i++) {
    const along = compact ? c - 3 + i : c - 5 + i + Math.floor(i / 5);
    if (mode[i]) set(along, c - ring);
    if (mode[quarter + i]) set(c + ring, along);
    if (mode[3 * quarter - 1 - i]) set(along, c + ring);
    if (mode[4 * quarter - 1 - i]) set(c - ring, along);
  }
  if (!compact)
    for (let i = 0, j = 0; i < Math.floor(base / 2); i += 15, j += 16)
      for (let k = c & 1; k < side; k += 2) {
        set(c - j, k);
        set(c + j, k);
        set(k, c - j);
        set(k, c + j);
      }
}
