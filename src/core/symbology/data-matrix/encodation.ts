/**
 * The shortest codewords for a payload in the six encodations of ISO/IEC 16022, found by dynamic
 * programming: `best[i]` is the fewest codewords that say the first i bytes and leave the symbol in
 * ASCII encodation. A stretch in another encodation is one step. What ends the data may leave out
 * its unlatch when it fills the symbol exactly, so the last step is weighed against each capacity.
 */
const latch = { c40: 230, base256: 231, x12: 238, text: 239, edifact: 240 } as const;
type Stretch = keyof typeof latch;
const unlatch = 254;
export const fnc1 = 232;
const upperShift = 235;
const groupSeparator = 29;

export interface Units {
  bytes: Uint8Array;
  gs1: boolean;
}

/** C40 or Text values of one byte. */
function tripletValues(byte: number, text: boolean, gs1: boolean): number[] {
  if (gs1 && byte === groupSeparator) return [1, 27];
  if (byte >= 128) return [1, 30, ...tripletValues(byte - 128, text, false)];
  if (byte === 32) return [3];
  if (byte >= 48 && byte <= 57) return [byte - 44];
  if (byte < 32) return [0, byte];
  if (byte >= 33 && byte <= 47) return [1, byte - 33];
  if (byte >= 58 && byte <= 64) return [1, byte - 43];
  if (byte >= 91 && byte <= 95) return [1, byte - 69];
  const capital = byte >= 65 && byte <= 90;
  const small = byte >= 97 && byte <= 122;
  if (text ? small : capital) return [byte - (text ? 83 : 51)];
  if (text && capital) return [2, byte - 64];
  return [2, byte - 96];
}

const valueCounts = [false, true].map((text) =>
  Uint8Array.from({ length: 256 }, (_, byte) => tripletValues(byte, text, false).length),
);

/** X12 value of a byte, or -1. */
function x12Value(byte: number): number {
  if (byte === 13) return 0;
  if (byte === 42) return 1;
  if (byte === 62) return 2;
  if (byte === 32) return 3;
  if (byte >= 48 && byte <= 57) return byte - 44;
  return byte >= 65 && byte <= 90 ? byte - 51 : -1;
}

const isEdifact = (byte: number): boolean => byte >= 32 && byte <= 94;
const isDigit = (byte: number): boolean => byte >= 48 && byte <= 57;

interface Step {
  from: number;
  kind: 'ascii' | Stretch;
}

interface Plan {
  best: Int32Array;
  steps: Step[];
}

export interface Ending {
  from: number;
  kind: Stretch;
  /** Bytes in ASCII after the stretch without an unlatch before them. */
  tail: number;
}

/** The cheapest way to every position, each stretch closed by its unlatch. */
export function planEncodation({ bytes, gs1 }: Units): Plan {
  const n = bytes.length;
  const best = new Int32Array(n + 1).fill(0x3fffffff);
  const steps: Step[] = new Array<Step>(n + 1);
  best[0] = 0;
  const relax = (to: number, cost: number, from: number, kind: Step['kind']) => {
    if (cost < best[to]!) {
      best[to] = cost;
      steps[to] = { from, kind };
    }
  };
  for (let i = 0; i < n; i++) {
    const here = best[i]!;
    const byte = bytes[i]!;
    relax(i + 1, here + (byte >= 128 ? 2 : 1), i, 'ascii');
    if (isDigit(byte) && i + 1 < n && isDigit(bytes[i + 1]!)) relax(i + 2, here + 1, i, 'ascii');
    let c40 = 0;
    let text = 0;
    let x12 = true;
    let edifact = true;
    for (let j = i; j < n; j++) {
      const b = bytes[j]!;
      const separator = gs1 && b === groupSeparator;
      c40 += separator ? 2 : valueCounts[0]![b]!;
      text += separator ? 2 : valueCounts[1]![b]!;
      const length = j - i + 1;
      if (c40 % 3 === 0) relax(j + 1, here + 2 + (c40 / 3) * 2, i, 'c40');
      if (text % 3 === 0) relax(j + 1, here + 2 + (text / 3) * 2, i, 'text');
      x12 &&= x12Value(b) >= 0;
      if (x12 && length % 3 === 0) relax(j + 1, here + 2 + (length / 3) * 2, i, 'x12');
      edifact &&= isEdifact(b);
      // four characters fill three codewords; readers return to ASCII by themselves when two or
      // fewer are left, so an unlatch only occurs where it shares its three codewords; the other
      // lengths cost no less by this than with ASCII after them
      if (edifact && length % 4 >= 2)
        relax(j + 1, here + 1 + Math.ceil(((length + 1) * 6) / 8), i, 'edifact');
      if (!gs1) relax(j + 1, here + (length > 249 ? 3 : 2) + length, i, 'base256');
    }
  }
  return { best, steps };
}

/** ASCII codewords of `bytes[from..to)`, digits in pairs. */
function asciiWords({ bytes, gs1 }: Units, from: number, to: number): number[] {
  const words: number[] = [];
  for (let i = from; i < to; i++) {
    const b = bytes[i]!;
    if (gs1 && b === groupSeparator) words.push(fnc1);
    else if (isDigit(b) && i + 1 < to && isDigit(bytes[i + 1]!))
      words.push(130 + (b - 48) * 10 + bytes[++i]! - 48);
    else if (b >= 128) words.push(upperShift, b - 127);
    else words.push(b + 1);
  }
  return words;
}

/**
 * An ending that fills `capacity` exactly and so needs no unlatch; undefined when there is none.
 */
export function exactEnding(
  units: Units,
  plan: Plan,
  prefix: number,
  capacity: number,
): Ending | undefined {
  const { bytes, gs1 } = units;
  const n = bytes.length;
  let c40 = 0;
  let text = 0;
  let x12 = true;
  // by how many bytes at the end are in ASCII
  const edifact = [true, true, true, true, true];
  for (let i = n - 1; i >= 0; i--) {
    const b = bytes[i]!;
    const separator = gs1 && b === groupSeparator;
    c40 += separator ? 2 : valueCounts[0]![b]!;
    text += separator ? 2 : valueCounts[1]![b]!;
    const room = capacity - prefix - plan.best[i]! - 1;
    const length = n - i;
    x12 &&= x12Value(b) >= 0;
    for (let tail = 0; tail < edifact.length; tail++)
      if (i < n - tail) edifact[tail] &&= isEdifact(b);
    if (room < 0) continue;
    for (const [kind, values] of [
      ['c40', c40],
      ['text', text],
    ] as const) {
      // the last triplet may be filled up with shift 1
      if (values % 3 !== 1 && Math.ceil(values / 3) * 2 === room) return { from: i, kind, tail: 0 };
      // one codeword left for one last ASCII character
      const last = bytes[n - 1]!;
      const lastValues = valueCounts[kind === 'text' ? 1 : 0]![last]!;
      if (
        length > 1 &&
        last < 128 &&
        !(gs1 && last === groupSeparator) &&
        (values - lastValues) % 3 === 0 &&
        ((values - lastValues) / 3) * 2 + 1 === room
      )
        return { from: i, kind, tail: 1 };
    }
    if (x12 && length % 3 === 0 && (length / 3) * 2 === room)
      return { from: i, kind: 'x12', tail: 0 };
    // with one or two codewords left readers are back in ASCII by themselves
    for (let tail = 0; tail < edifact.length; tail++) {
      if (!edifact[tail] || length <= tail || (length - tail) % 4 !== 0) continue;
      const left = asciiWords(units, n - tail, n).length;
      if (left <= 2 && ((length - tail) / 4) * 3 + left === room)
        return { from: i, kind: 'edifact', tail };
    }
    if (!gs1 && length + 1 === room) return { from: i, kind: 'base256', tail: 0 };
  }
  return undefined;
}

/** Writes the planned codewords, without padding. `prefix` comes before them (FNC1, ECI). */
export function writeEncodation(
  units: Units,
  plan: Plan,
  prefix: readonly number[],
  ending: Ending | undefined,
): number[] {
  const stretches: { from: number; to: number; kind: Step['kind'] }[] = [];
  for (let at = ending?.from ?? units.bytes.length; at > 0;) {
    const { from, kind } = plan.steps[at]!;
    stretches.unshift({ from, to: at, kind });
    at = from;
  }
  const words = [...prefix];
  for (const { from, to, kind } of stretches) {
    if (kind === 'ascii') words.push(...asciiWords(units, from, to));
    else writeStretch(units, from, to, kind, words, true);
  }
  if (ending) {
    const to = units.bytes.length - ending.tail;
    writeStretch(units, ending.from, to, ending.kind, words, false);
    words.push(...asciiWords(units, to, units.bytes.length));
  }
  return words;
}

function writeStretch(
  { bytes, gs1 }: Units,
  from: number,
  to: number,
  kind: Stretch,
  words: number[],
  close: boolean,
): void {
  words.push(latch[kind]);
  const part = bytes.subarray(from, to);
  if (kind === 'base256') return writeBase256(part, words, close);
  if (kind === 'edifact') return writeEdifact(part, words, close);
  const values =
    kind === 'x12'
      ? Array.from(part, x12Value)
      : Array.from(part).flatMap((b) => tripletValues(b, kind === 'text', gs1));
  while (values.length % 3 !== 0) values.push(0);
  for (let i = 0; i < values.length; i += 3) {
    const triplet = values[i]! * 1600 + values[i + 1]! * 40 + values[i + 2]! + 1;
    words.push(triplet >> 8, triplet & 255);
  }
  if (close) words.push(unlatch);
}

function writeEdifact(part: Uint8Array, words: number[], close: boolean): void {
  const values = Array.from(part, (b) => b & 63);
  if (close) values.push(31);
  for (let i = 0; i < values.length; i += 4) {
    const [a, b = 0, c = 0, d = 0] = values.slice(i, i + 4);
    const bits = (a! << 18) | (b << 12) | (c << 6) | d;
    const count = Math.ceil((Math.min(4, values.length - i) * 6) / 8);
    for (let k = 0; k < count; k++) words.push((bits >> (16 - 8 * k)) & 255);
  }
}

/**
 * Bytes with their length before them, each masked by its position so that there are no long runs.
 */
function writeBase256(part: Uint8Array, words: number[], close: boolean): void {
  const length = !close
    ? [0]
    : part.length <= 249
      ? [part.length]
      : [249 + Math.floor(part.length / 250), part.length % 250];
  for (const value of [...length, ...part]) {
    const disguise = ((149 * (words.length + 1)) % 255) + 1;
    words.push((value + disguise) % 256);
  }
}
