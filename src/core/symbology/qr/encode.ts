import { BitBuffer, mostBytes } from '../bits';
import { GaloisField, ReedSolomon } from '../galois';
import { EncodeError, type ExpectedRead, type MatrixSymbol } from '../types';
import { columnPenalty, maskedBlockPenalty } from './masks';
import {
  oneByteSegment,
  prefixBits,
  qrModes,
  segmentHeaders,
  shortestSegments,
  toUnits,
  writeSegments,
} from './segments';
import type { QrMode, Segmentation, Units } from './segments';
import { blockLayout, qrLevels, versionGroup, type QrLevel } from './tables';
import { overlayFor, templateFor, type Template } from './template';

export interface QrOptions {
  /** Wanted error correction level; M by default. */
  level?: QrLevel;
  /** Raise the level while the version stays the same. True when left out. */
  raiseLevel?: boolean;
  /** Force one version, 1 to 40. */
  version?: number;
  /** Smallest version to use, so that all codes of a list can have one size. */
  minVersion?: number;
  /** Force one of the masks 0 to 7. */
  mask?: number;
  /** Force one mode for the whole payload. */
  mode?: QrMode;
  eci?: 'auto' | 'never';
  /** Announce GS1 data with FNC1 in first position. */
  gs1?: boolean;
}

const field = new GaloisField(0x11d, 256);
const coders: ReedSolomon[] = [];

/** Plan of a QR symbol before any module is drawn: cheap, for judging fit. */
export interface QrPlan {
  version: number;
  level: QrLevel;
  /** Bits used of `8 × dataWords`. */
  bits: number;
  units: Units;
  segmentation: Segmentation;
}

/**
 * Chooses segments, version and level for a payload (ISO/IEC 18004). Needs no drawing, so it is
 * quick enough for whole lists.
 * @throws EncodeError if the payload is empty, too long, or impossible in a forced mode
 */
export function planQr(payload: string | Uint8Array, options: QrOptions = {}): QrPlan {
  if (payload.length === 0)
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  checkOptions(options);
  const units = toUnits(payload, options);
  const wanted = options.level ?? 'M';
  const lowest = options.version ?? options.minVersion ?? 1;
  const highest = options.version ?? 40;
  let segmentation: Segmentation | undefined;
  let needed = 0;
  for (let version = lowest, group = -1; version <= highest; version++) {
    if (versionGroup(version) !== group) {
      group = versionGroup(version);
      segmentation = units.bytesSuffice
        ? oneByteSegment(units, segmentHeaders[group]!)
        : shortestSegments(units, segmentHeaders[group]!);
      if (!segmentation) throw modeError(payload, options.mode!);
      needed = segmentation.bits + prefixBits(units);
    }
    if (
      needed > blockLayout(version, wanted).dataWords * 8 ||
      countOverflows(units, segmentation!, group)
    )
      continue;
    let level = wanted;
    if (options.raiseLevel ?? true)
      for (const higher of qrLevels.slice(qrLevels.indexOf(wanted) + 1))
        if (needed <= blockLayout(version, higher).dataWords * 8) level = higher;
    return { version, level, bits: needed, units, segmentation: segmentation! };
  }
  throw tooLong(payload, needed, highest, wanted);
}

/** Bytes that the largest version holds at the highest level, of any text, less the ECI header. */
const alwaysFits = 1270;

/**
 * Whether a payload can be encoded at all.
 * @throws EncodeError if `planQr` does
 */
export function checkQr(payload: string | Uint8Array, options: QrOptions = {}): void {
  const free = options.version === undefined && options.mode === undefined;
  const bytes = mostBytes(payload);
  if (free && bytes > 0 && bytes <= alwaysFits) checkOptions(options);
  else planQr(payload, options);
}

/** A forced single segment can hold more units than its count field can say. */
function countOverflows(units: Units, { segments }: Segmentation, group: number): boolean {
  return segments.some(({ mode, from, to }) => {
    const amount = mode === 3 ? to - from : units.byteStart[to]! - units.byteStart[from]!;
    return amount >= 2 ** (segmentHeaders[group]![mode]! - 4);
  });
}

function checkOptions({ version, minVersion, mask }: QrOptions): void {
  const whole = (value: number | undefined, from: number, to: number, name: string) => {
    if (value !== undefined && !(Number.isInteger(value) && value >= from && value <= to))
      throw new EncodeError(
        'option',
        `${name} ${value} does not exist in QR code; it goes from ${from} to ${to}.`,
      );
  };
  whole(version, 1, 40, 'Version');
  whole(minVersion, 1, 40, 'Version');
  whole(mask, 0, 7, 'Mask');
}

function modeError(payload: string | Uint8Array, mode: QrMode): EncodeError {
  const text = typeof payload === 'string' ? payload : '';
  for (let i = 0; i < text.length; i++) {
    const costs = toUnits(text[i]!, { mode }).costs;
    if (costs.every((cost) => cost >= 0x3fffffff))
      return new EncodeError(
        'character',
        `“${text[i]}” at place ${i + 1} cannot be said in ${mode} mode.`,
        {
          position: i,
          mend: 'Let Hand Stamp choose the mode.',
        },
      );
  }
  return new EncodeError('option', `This payload cannot be said in ${mode} mode.`, {
    mend: 'Let Hand Stamp choose the mode.',
  });
}

function tooLong(
  payload: string | Uint8Array,
  needed: number,
  version: number,
  level: QrLevel,
): EncodeError {
  const room = blockLayout(version, level).dataWords * 8;
  const over = Math.max(1, Math.ceil((needed - room) / 8));
  const most = version === 40 ? 'The largest QR code' : `A QR code of version ${version}`;
  const lower = qrLevels.indexOf(level) > 0 && needed <= blockLayout(version, 'L').dataWords * 8;
  return new EncodeError(
    'length',
    `Too long: ${payload.length.toLocaleString('en')} characters. ${most} at level ${level} holds ${Math.floor((room - 20) / 8).toLocaleString('en')} of this kind.`,
    {
      mend: lower
        ? `Shorten it by ${over}, or use level L.`
        : `Shorten it by ${over.toLocaleString('en')} characters.`,
    },
  );
}

/**
 * Encodes a payload as a QR Code symbol (ISO/IEC 18004). Size in modules: `17 + 4 × version` both
 * ways.
 */
export function encodeQr(payload: string | Uint8Array, options: QrOptions = {}): MatrixSymbol {
  const plan = planQr(payload, options);
  const { version, level } = plan;
  const template = templateFor(version);
  const words = codewords(plan);
  const bits = new Int32Array(template.size * template.words);
  place(words, template, bits);
  const mask = options.mask ?? bestMask(template, level, bits);
  const overlay = overlayFor(template, level, mask);
  const { size } = template;
  const modules = new Uint8Array(size * size);
  for (let r = 0, i = 0; r < size; r++)
    for (let w = 0, at = r * template.words; w * 32 < size; w++, at++) {
      let word = bits[at]! ^ overlay[at]!;
      for (const end = i + Math.min(32, size - w * 32); i < end; i++) {
        modules[i] = word & 1;
        word >>>= 1;
      }
    }
  return {
    kind: 'matrix',
    symbology: 'qr',
    columns: size,
    rows: size,
    modules,
    quietZone: { top: 4, right: 4, bottom: 4, left: 4 },
    payload,
    facts: {
      version,
      level,
      mask,
      modes: plan.segmentation.segments.map((s) => qrModes[s.mode]).join(' '),
    },
  };
}

/** Data codewords with padding, cut into blocks, check words added, interleaved. */
function codewords({ units, segmentation, version, level }: QrPlan): Uint8Array {
  const layout = blockLayout(version, level);
  const buffer = new BitBuffer(layout.dataWords);
  writeSegments(units, segmentation.segments, versionGroup(version), buffer);
  buffer.append(0, Math.min(4, layout.dataWords * 8 - buffer.length));
  const data = new Uint8Array(layout.dataWords);
  const used = buffer.toBytes();
  data.set(used);
  for (let i = used.length, pad = 0xec; i < data.length; i++, pad ^= 0xec ^ 0x11) data[i] = pad;
  const { blocks, checkWords, shortData, shortBlocks } = layout;
  const coder = (coders[checkWords] ??= new ReedSolomon(field, checkWords));
  const out = new Uint8Array(layout.totalWords);
  const check = new Uint8Array(checkWords);
  for (let b = 0, from = 0; b < blocks; b++) {
    const length = shortData + (b >= shortBlocks ? 1 : 0);
    for (let i = 0; i < shortData; i++) out[i * blocks + b] = data[from + i]!;
    if (length > shortData) out[shortData * blocks + b - shortBlocks] = data[from + shortData]!;
    coder.encode(data, from, from + length, check, 0);
    for (let i = 0; i < checkWords; i++) out[layout.dataWords + i * blocks + b] = check[i]!;
    from += length;
  }
  return out;
}

function place(words: Uint8Array, template: Template, bits: Int32Array): void {
  const { order, turnedOrder } = template;
  for (let i = 0; i < words.length; i++) {
    // only the bits that are set, from the most significant
    for (let word = words[i]!; word !== 0;) {
      const lead = Math.clz32(word);
      word ^= 0x80000000 >>> lead;
      const at = i * 8 + lead - 24;
      const o = order[at]!;
      const t = turnedOrder[at]!;
      bits[o >> 5]! |= 1 << (o & 31);
      bits[t >> 5]! |= 1 << (t & 31);
    }
  }
}

const blockPenalties = new Int32Array(8);
const maskOrder = [0, 1, 2, 3, 4, 5, 6, 7];

/**
 * The mask with the lowest penalty; the lowest number wins a tie. The part that is quick to count
 * is counted for all first, and the most promising mask weighed first, so that most of the others
 * are seen to have lost early.
 */
function bestMask(template: Template, level: QrLevel, bits: Int32Array): number {
  const { size, words } = template;
  for (let mask = 0; mask < 8; mask++) {
    const penalty = maskedBlockPenalty(bits, overlayFor(template, level, mask), size, words);
    blockPenalties[mask] = penalty;
    // put in its place among those before it, which takes less than sorting eight numbers
    let at = mask;
    for (; at > 0 && blockPenalties[maskOrder[at - 1]!]! > penalty; at--)
      maskOrder[at] = maskOrder[at - 1]!;
    maskOrder[at] = mask;
  }
  let best = 8;
  let lowest = Infinity;
  for (const mask of maskOrder) {
    // of two equal penalties the lower number wins
    const limit = mask < best ? lowest + 1 : lowest;
    let penalty = blockPenalties[mask]!;
    if (penalty >= limit) continue;
    const overlay = overlayFor(template, level, mask);
    penalty += columnPenalty(bits, overlay, size, words, limit - penalty, 2 * size);
    if (penalty < limit) {
      lowest = penalty;
      best = mask;
    }
  }
  return best;
}

/**
 * What the independent reader must report: the text itself, and ]Q1, ]Q2 with ECI, ]Q3 with GS1's
 * FNC1.
 */
export function expectedQrRead(symbol: MatrixSymbol, options: QrOptions = {}): ExpectedRead {
  const text =
    typeof symbol.payload === 'string'
      ? symbol.payload
      : Array.from(symbol.payload, (b) => String.fromCharCode(b)).join('');
  return { format: 'QRCode', text, identifier: options.gs1 ? ']Q3' : undefined };
}
