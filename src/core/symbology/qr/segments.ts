import type { BitBuffer } from '../bits';
import { kanjiValue } from '../kanji';
import { countBits } from './tables';

export const qrModes = ['numeric', 'alphanumeric', 'byte', 'kanji'] as const;
export type QrMode = (typeof qrModes)[number];

const modeIndicators = [1, 2, 4, 8] as const;
const alphanumericSet = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ $%*+-./:';
const alphanumericValue = new Int8Array(128).fill(-1);
for (let i = 0; i < alphanumericSet.length; i++)
  alphanumericValue[alphanumericSet.charCodeAt(i)] = i;

const groupSeparator = 0x1d;
const never = 0x3fffffff;
const utf8 = new TextEncoder();

/**
 * A payload cut into the units that segments are made of: characters of a text, or bytes.
 * `values[m][i]` is unit i's value in mode m; `bytes` holds every unit's bytes one after the other.
 */
export interface Units {
  count: number;
  /**
   * Cost of unit i in mode m, in sixths of a bit, at [m * count + i]; `never` if the mode has no
   * code for it.
   */
  costs: Int32Array;
  /** Start of each unit in `bytes`; one more entry than units. */
  byteStart: Int32Array;
  bytes: Uint8Array;
  kanji: Int32Array | undefined;
  /** ECI assignment number to announce before the data; 0 for none. */
  eci: number;
  gs1: boolean;
  /** No other mode can save a bit in a QR code, whatever the version. */
  bytesSuffice: boolean;
}

export interface UnitOptions {
  gs1?: boolean;
  /** Force one mode for the whole payload. */
  mode?: QrMode;
  /**
   * 'auto' announces UTF-8 when the text is not plain ASCII and kanji mode cannot say it; 'never'
   * leaves it out.
   */
  eci?: 'auto' | 'never';
}

/**
 * Prepares a payload for segmentation. Throws nothing: a forced mode that cannot say a unit has
 * `never` as its cost.
 */
export function toUnits(payload: string | Uint8Array, options: UnitOptions): Units {
  const gs1 = options.gs1 ?? false;
  const bytes = typeof payload === 'string' ? utf8.encode(payload) : payload;
  const plain = typeof payload !== 'string' || bytes.length === payload.length;
  let kanji: Int32Array | undefined;
  let eci = 0;
  let count = bytes.length;
  let byteStart: Int32Array;
  if (plain) {
    byteStart = new Int32Array(count + 1);
    for (let i = 0; i <= count; i++) byteStart[i] = i;
  } else {
    const text = payload as string;
    const characters = Array.from(text);
    count = characters.length;
    byteStart = new Int32Array(count + 1);
    let at = 0;
    for (let i = 0; i < count; i++) {
      byteStart[i] = at;
      at += utf8.encode(characters[i]).length;
    }
    byteStart[count] = at;
    kanji = kanjiUnits(characters);
    if (!kanji && options.eci !== 'never') eci = 26;
  }
  const costs = new Int32Array(4 * count).fill(never);
  const forced = options.mode ? qrModes.indexOf(options.mode) : -1;
  const isText = typeof payload === 'string';
  for (let i = 0; i < count; i++) {
    const size = byteStart[i + 1]! - byteStart[i]!;
    const code = size === 1 ? bytes[byteStart[i]!]! : 0x80;
    if (isText && code >= 48 && code <= 57) costs[i] = 20;
    if (isText && code < 128) {
      if (gs1 && (code === 37 || code === groupSeparator)) costs[count + i] = code === 37 ? 66 : 33;
      else if (alphanumericValue[code]! >= 0) costs[count + i] = 33;
    }
    if (!kanji || size === 1) costs[2 * count + i] = 48 * size;
    if (kanji && kanji[i]! >= 0) costs[3 * count + i] = 78;
    if (forced >= 0) for (let m = 0; m < 4; m++) if (m !== forced) costs[m * count + i] = never;
  }
  const bytesSuffice = isText && !gs1 && !kanji && forced < 0 && bytesAreShortest(bytes);
  return { count, costs, byteStart, bytes, kanji, eci, gs1, bytesSuffice };
}

/**
 * Whether no run of digits or capitals is long enough to pay for a segment of its own. A segment
 * within bytes costs at least 26 bits of headers in numeric and 25 in alphanumeric mode and saves 4
 * 2/3 and 2 1/2 bits a character; at an end 14 and 13. Versions from 10 on only have longer
 * headers.
 */
function bytesAreShortest(bytes: Uint8Array): boolean {
  let digits = 0;
  let capitals = 0;
  for (let i = 0; i <= bytes.length; i++) {
    const value = i < bytes.length && bytes[i]! < 128 ? alphanumericValue[bytes[i]!]! : -1;
    const end = i === bytes.length;
    if (end && capitals === i) return false;
    if (value < 0 || end) {
      const edge = end || i === capitals;
      if (capitals >= (edge ? 6 : 10)) return false;
      if (digits >= (end || i === digits ? 4 : 6)) return false;
      digits = capitals = 0;
    } else if (value > 9) {
      if (digits >= (i === digits ? 4 : 6)) return false;
      digits = 0;
      capitals++;
    } else {
      digits++;
      capitals++;
    }
  }
  return true;
}

/**
 * Kanji values of the characters (-1 for ASCII), or undefined if any character is neither in kanji
 * mode nor in the ASCII part of Shift-JIS. Readers read the whole payload as Shift-JIS if it has a
 * kanji segment.
 */
function kanjiUnits(characters: readonly string[]): Int32Array | undefined {
  const values = new Int32Array(characters.length).fill(-1);
  for (let i = 0; i < characters.length; i++) {
    const code = characters[i]!.codePointAt(0)!;
    if (code < 0x80) {
      if (code === 0x5c || code === 0x7e) return undefined;
      continue;
    }
    const value = kanjiValue(characters[i]!);
    if (value === undefined) return undefined;
    values[i] = value;
  }
  return values;
}

export interface Segment {
  mode: number;
  /** First unit and one past the last. */
  from: number;
  to: number;
}

export interface Segmentation {
  segments: Segment[];
  /** Whole length in bits with mode indicators, counts, ECI and FNC1 headers. */
  bits: number;
}

/**
 * The shortest segments for the units, by dynamic programming over (unit, mode). Costs are in
 * sixths of a bit, since ten bits hold three digits and eleven two characters; a segment ends on a
 * whole bit.
 * @param headers bits of mode indicator plus count per mode
 * @returns undefined if some unit cannot be encoded
 */
export function shortestSegments(
  units: Units,
  headers: readonly number[],
): Segmentation | undefined {
  const { count, costs } = units;
  if (count === 0) return { segments: [], bits: 0 };
  const from = new Uint8Array(4 * count);
  let previous = [0, 0, 0, 0];
  let next = [0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    let best = never;
    let bestMode = 0;
    if (i === 0) best = 0;
    else
      for (let m = 0; m < 4; m++) {
        const whole = Math.ceil(previous[m]! / 6) * 6;
        if (whole < best) {
          best = whole;
          bestMode = m;
        }
      }
    for (let m = 0; m < 4; m++) {
      const cost = costs[m * count + i]!;
      if (cost >= never) {
        next[m] = never;
        continue;
      }
      const started = best + headers[m]! * 6;
      if (i > 0 && previous[m]! <= started) {
        next[m] = previous[m]! + cost;
        from[4 * i + m] = m;
      } else {
        next[m] = Math.min(never, started + cost);
        from[4 * i + m] = 4 | bestMode;
      }
    }
    [previous, next] = [next, previous];
  }
  let mode = 0;
  for (let m = 1; m < 4; m++)
    if (Math.ceil(previous[m]! / 6) < Math.ceil(previous[mode]! / 6)) mode = m;
  if (previous[mode]! >= never) return undefined;
  const bits = Math.ceil(previous[mode]! / 6);
  const segments: Segment[] = [];
  let end = count;
  for (let i = count - 1; i >= 0; i--) {
    const step = from[4 * i + mode]!;
    if (step & 4) {
      segments.unshift({ mode, from: i, to: end });
      end = i;
      mode = step & 3;
    }
  }
  return { segments, bits };
}

/**
 * The whole payload in one byte segment: the shortest way where {@link Units.bytesSuffice} says so.
 */
export const oneByteSegment = (
  { count, byteStart }: Units,
  headers: readonly number[],
): Segmentation => ({
  segments: [{ mode: 2, from: 0, to: count }],
  bits: headers[2]! + 8 * byteStart[count]!,
});

/** Mode indicator and count bits per mode in a group of versions. */
export const segmentHeaders = countBits.map((group) => group.map((bits) => bits + 4));

/**
 * Bits before the first segment: ECI designator and FNC1 in first position, with mode indicators of
 * `indicator` bits.
 */
export const prefixBitsOf = (units: Units, indicator: number): number =>
  (units.eci ? indicator + 8 : 0) + (units.gs1 ? indicator : 0);
export const prefixBits = (units: Units): number => prefixBitsOf(units, 4);

/** Writes ECI, FNC1 and all segments of a QR code, without terminator or padding. */
export function writeSegments(
  units: Units,
  segments: readonly Segment[],
  group: 0 | 1 | 2,
  out: BitBuffer,
): void {
  if (units.eci) {
    out.append(7, 4);
    out.append(units.eci, 8);
  }
  if (units.gs1) out.append(5, 4);
  for (const { mode, from, to } of segments) {
    out.append(modeIndicators[mode]!, 4);
    writeUnits(units, mode, from, to, countBits[group][mode]!, out);
  }
}

/** Writes one segment after its mode indicator: the count in `count` bits, then the units. */
export function writeUnits(
  units: Units,
  mode: number,
  from: number,
  to: number,
  count: number,
  out: BitBuffer,
): void {
  const start = units.byteStart[from]!;
  const end = units.byteStart[to]!;
  if (mode === 0) writeNumeric(units.bytes, start, end, count, out);
  else if (mode === 1) writeAlphanumeric(units, start, end, count, out);
  else if (mode === 2) {
    out.append(end - start, count);
    for (let i = start; i < end; i++) out.append(units.bytes[i]!, 8);
  } else {
    out.append(to - from, count);
    for (let i = from; i < to; i++) out.append(units.kanji![i]!, 13);
  }
}

function writeNumeric(
  bytes: Uint8Array,
  start: number,
  end: number,
  count: number,
  out: BitBuffer,
): void {
  out.append(end - start, count);
  let i = start;
  for (; i + 3 <= end; i += 3)
    out.append((bytes[i]! - 48) * 100 + (bytes[i + 1]! - 48) * 10 + bytes[i + 2]! - 48, 10);
  if (end - i === 2) out.append((bytes[i]! - 48) * 10 + bytes[i + 1]! - 48, 7);
  else if (end - i === 1) out.append(bytes[i]! - 48, 4);
}

function writeAlphanumeric(
  units: Units,
  start: number,
  end: number,
  count: number,
  out: BitBuffer,
): void {
  const values: number[] = [];
  for (let i = start; i < end; i++) {
    const code = units.bytes[i]!;
    if (units.gs1 && code === groupSeparator) values.push(38);
    else if (units.gs1 && code === 37) values.push(38, 38);
    else values.push(alphanumericValue[code]!);
  }
  out.append(values.length, count);
  let i = 0;
  for (; i + 2 <= values.length; i += 2) out.append(values[i]! * 45 + values[i + 1]!, 11);
  if (i < values.length) out.append(values[i]!, 6);
}
