/**
 * Text, byte and numeric compaction of PDF417 (ISO/IEC 15438): the fewest codewords for a message,
 * found by dynamic programming. Text counts in values, two to a codeword; a stretch of bytes or
 * digits is one step.
 */
const signs = (text: string): number[] => Array.from(text, (c) => c.charCodeAt(0));
const capitals = signs('ABCDEFGHIJKLMNOPQRSTUVWXYZ ');
const small = signs('abcdefghijklmnopqrstuvwxyz ');
const mixed = [...signs('0123456789&\r\t,:#-.$/+%*=^'), -1, 32];
const punctuation = signs(';<>@[\\]_`~!\r\t,:\n-.$/"|*()?{}\'');
/** Value of each byte in the sub-modes Alpha, Lower, Mixed and Punctuation; -1 for none. */
const subModes = [capitals, small, mixed, punctuation].map((list) => {
  const values = new Int8Array(256).fill(-1);
  list.forEach((code, value) => code >= 0 && (values[code] = value));
  return values;
});
/** Values that latch from one sub-mode (row) to another (column). */
const latches: readonly (readonly (readonly number[])[])[] = [
  [[], [27], [28], [28, 25]],
  [[28, 28], [], [28], [28, 25]],
  [[28], [27], [], [25]],
  [[29], [29, 27], [29, 28], []],
];
const shiftAlpha = 27;
const shiftPunctuation = 29;
const filler = 29;

const toText = 900;
const toBytes = 901;
const toSixes = 924;
const toDigits = 902;
const shiftByte = 913;
export const eciUtf8 = [927, 26];

const digitWords = (count: number): number =>
  Math.floor(count / 44) * 15 + (count % 44 ? Math.floor((count % 44) / 3) + 1 : 0);
const byteWords = (count: number): number => Math.floor(count / 6) * 5 + (count % 6);

/** How a state was reached. */
interface Step {
  from: number;
  state: number;
  /** Text values; or a stretch. */
  values?: readonly number[];
  stretch?: 'digits' | 'bytes' | 'byte';
}

/** States 0 to 7: sub-mode times two, plus one when half a codeword is open; 8 digits; 9 bytes. */
const afterDigits = 8;
const afterBytes = 9;
const stateCount = 10;
const never = 0x3fffffff;

/** The codewords of a message, without length descriptor, padding and check words. */
export function compactBytes(bytes: Uint8Array): number[] {
  const n = bytes.length;
  const cost = new Int32Array((n + 1) * stateCount).fill(never);
  const steps: Step[] = new Array<Step>((n + 1) * stateCount);
  const relax = (at: number, state: number, value: number, step: Step): boolean => {
    const i = at * stateCount + state;
    if (value >= cost[i]!) return false;
    cost[i] = value;
    steps[i] = step;
    return true;
  };
  const textStep = (
    at: number,
    to: number,
    state: number,
    subMode: number,
    values: readonly number[],
    extra: number,
  ) => {
    const parity = (state + values.length) & 1;
    return relax(to, subMode * 2 + parity, extra + values.length, { from: at, state, values });
  };
  const runs = new Int32Array(n + 1);
  for (let i = n - 1; i >= 0; i--)
    runs[i] = bytes[i]! >= 48 && bytes[i]! <= 57 ? runs[i + 1]! + 1 : 0;
  cost[0] = 0;
  for (let i = 0; i <= n; i++) {
    const at = i * stateCount;
    // latches within text, and back to text from digits and bytes; costs only grow, so repeating
    // settles them
    for (let changed = true; changed;) {
      changed = false;
      for (let state = 0; state < 8; state++) {
        if (cost[at + state]! >= never) continue;
        for (let to = 0; to < 4; to++)
          if (to !== state >> 1)
            changed =
              textStep(i, i, state, to, latches[state >> 1]![to]!, cost[at + state]!) || changed;
      }
      for (const state of [afterDigits, afterBytes])
        if (cost[at + state]! < never)
          changed = relax(i, 0, cost[at + state]! + 2, { from: i, state }) || changed;
    }
    if (i === n) break;
    let best = never;
    let bestState = 0;
    for (let state = 0; state < stateCount; state++) {
      const here = cost[at + state]!;
      if (here >= never) continue;
      const whole = state < 8 && state & 1 ? here + 1 : here;
      if (whole < best) [best, bestState] = [whole, state];
      if (state >= 8) continue;
      const subMode = state >> 1;
      const value = subModes[subMode]![bytes[i]!]!;
      if (value >= 0) textStep(i, i + 1, state, subMode, [value], here);
      if (subMode !== 3 && subModes[3]![bytes[i]!]! >= 0)
        textStep(i, i + 1, state, subMode, [shiftPunctuation, subModes[3]![bytes[i]!]!], here);
      if (subMode === 1 && subModes[0]![bytes[i]!]! >= 0)
        textStep(i, i + 1, state, subMode, [shiftAlpha, subModes[0]![bytes[i]!]!], here);
      relax(i + 1, subMode * 2, whole + 4, { from: i, state, stretch: 'byte' });
    }
    if (runs[i]! >= 6 && (i === 0 || runs[i - 1] === 0 || runs[i]! % 44 === 0))
      relax(i + runs[i]!, afterDigits, best + 2 + 2 * digitWords(runs[i]!), {
        from: i,
        state: bestState,
        stretch: 'digits',
      });
    for (let j = i + 1; j <= n; j++) {
      const length = j - i;
      relax(j, afterBytes, best + 2 + 2 * byteWords(length), {
        from: i,
        state: bestState,
        stretch: 'bytes',
      });
    }
  }
  let end = 0;
  const closed = (state: number) => cost[n * stateCount + state]! + (state < 8 ? state & 1 : 0);
  for (let state = 1; state < stateCount; state++) if (closed(state) < closed(end)) end = state;
  return write(bytes, steps, end);
}

/** Follows the steps back and writes their codewords. */
function write(bytes: Uint8Array, steps: readonly Step[], end: number): number[] {
  const path: (Step & { to: number; entered: number })[] = [];
  for (let at = bytes.length, state = end; ;) {
    const step = steps[at * stateCount + state];
    if (!step) break;
    path.unshift({ ...step, to: at, entered: state });
    [at, state] = [step.from, step.state];
  }
  const words: number[] = [];
  let values: number[] = [];
  const close = () => {
    if (values.length % 2 === 1) values.push(filler);
    for (let i = 0; i < values.length; i += 2) words.push(values[i]! * 30 + values[i + 1]!);
    values = [];
  };
  for (const { from, to, values: said, stretch } of path) {
    if (said) {
      values.push(...said);
      continue;
    }
    close();
    const part = bytes.subarray(from, to);
    if (stretch === 'byte') words.push(shiftByte, bytes[from]!);
    else if (stretch === 'digits') words.push(toDigits, ...digits(part));
    else if (stretch === 'bytes')
      words.push(part.length % 6 === 0 ? toSixes : toBytes, ...sixes(part));
    else words.push(toText);
  }
  close();
  return words;
}

/** Up to 44 digits with a 1 before them, as a number to base 900. */
function digits(part: Uint8Array): number[] {
  const out: number[] = [];
  for (let i = 0; i < part.length; i += 44) {
    let value = BigInt(`1${String.fromCharCode(...part.subarray(i, i + 44))}`);
    const group: number[] = [];
    for (; value > 0n; value /= 900n) group.unshift(Number(value % 900n));
    out.push(...group);
  }
  return out;
}

/** Six bytes as five words to base 900; the rest one by one. */
function sixes(part: Uint8Array): number[] {
  const out: number[] = [];
  let i = 0;
  for (; i + 6 <= part.length; i += 6) {
    let value = 0;
    for (let k = 0; k < 6; k++) value = value * 256 + part[i + k]!;
    const group: number[] = [];
    for (let k = 0; k < 5; k++) {
      group.unshift(value % 900);
      value = Math.floor(value / 900);
    }
    out.push(...group);
  }
  for (; i < part.length; i++) out.push(part[i]!);
  return out;
}
