import type { BitBuffer } from '../bits';

/**
 * Aztec Code's five modes and binary shift (ISO/IEC 24778), and the shortest way through them by
 * dynamic programming over (position, mode). Proven by reading every character back and by
 * comparison with an independent writer (tests/core/symbology/aztec.test.ts).
 */
const [upper, lower, mixed, punct, digit] = [0, 1, 2, 3, 4];
const bitsIn = [5, 5, 5, 5, 4];

/** Code of each byte in each mode, or -1. */
const codes = [upper, lower, mixed, punct, digit].map(() => new Int8Array(256).fill(-1));
const fill = (mode: number, first: number, characters: string) =>
  Array.from(characters, (c, i) => (codes[mode]![c.charCodeAt(0)] = first + i));
fill(upper, 1, ' ABCDEFGHIJKLMNOPQRSTUVWXYZ');
fill(lower, 1, ' abcdefghijklmnopqrstuvwxyz');
fill(mixed, 1, ' \x01\x02\x03\x04\x05\x06\x07\x08\t\n\v\f\r\x1b\x1c\x1d\x1e\x1f@\\^_`|~\x7f');
fill(punct, 1, '\r');
fill(punct, 6, '!"#$%&\'()*+,-./:;<=>?[]{}');
fill(digit, 1, ' 0123456789,.');
/** Two characters that punctuation says in one code. */
const pairs: Record<string, number> = { '\r\n': 2, '. ': 3, ', ': 4, ': ': 5 };

const pairStarts = Object.keys(pairs).map((pair) => pair.charCodeAt(0));

type Write = [value: number, bits: number];

/** Latches from mode to mode; a switch without a code of its own goes by way of another mode. */
const latches: readonly (readonly [from: number, to: number, write: Write])[] = [
  [upper, lower, [28, 5]],
  [upper, mixed, [29, 5]],
  [upper, digit, [30, 5]],
  [lower, mixed, [29, 5]],
  [lower, digit, [30, 5]],
  [mixed, lower, [28, 5]],
  [mixed, upper, [29, 5]],
  [mixed, punct, [30, 5]],
  [punct, upper, [31, 5]],
  [digit, upper, [14, 4]],
];

interface Step {
  cost: number;
  writes: Write[];
  from: number;
  mode: number;
  /** Bytes written by a binary shift, after `writes`. */
  binary?: number;
}

/** Longest run of one binary shift, in bytes. */
const mostBinary = 2078;

/** Writes the shortest bits for the bytes. `eci` announces UTF-8 first. */
export function writeAztec(bytes: Uint8Array, eci: boolean, out: BitBuffer): void {
  // punctuation shift, FLG(2), the digits 2 and 6
  if (eci)
    for (const [value, bits] of [
      [0, 5],
      [0, 5],
      [2, 3],
      [4, 4],
      [8, 4],
    ])
      out.append(value!, bits!);
  const n = bytes.length;
  const best: (Step | undefined)[][] = Array.from(
    { length: n + 1 },
    () => new Array<Step | undefined>(5),
  );
  // asked before a step is made: most ways are dearer than one that is known
  const cheaper = (at: number, mode: number, cost: number): boolean => {
    const known = best[at]![mode];
    return !known || cost < known.cost;
  };
  const go = (from: number, to: number, mode: number, writes: Write[]) => {
    let { cost } = best[from]![mode]!;
    for (const write of writes) cost += write[1];
    if (cheaper(to, mode, cost)) best[to]![mode] = { cost, writes, from, mode };
  };
  const open: ({ cost: number; from: number } | undefined)[] = [];
  best[0]![upper] = { cost: 0, writes: [], from: -1, mode: upper };
  for (let i = 0; i <= n; i++) {
    // three rounds reach every mode from every other
    for (let round = 0, changed = true; round < 3 && changed; round++) {
      changed = false;
      for (const [from, to, write] of latches) {
        const here = best[i]![from];
        if (!here || !cheaper(i, to, here.cost + write[1])) continue;
        best[i]![to] = { cost: here.cost + write[1], writes: [write], from: i, mode: from };
        changed = true;
      }
    }
    if (i === n) break;
    const byte = bytes[i]!;
    const pair =
      i + 1 < n && pairStarts.includes(byte)
        ? pairs[String.fromCharCode(byte, bytes[i + 1]!)]
        : undefined;
    for (let mode = 0; mode < 5; mode++) {
      const here = best[i]![mode];
      if (!here) continue;
      const own = codes[mode]![byte]!;
      if (own >= 0) go(i, i + 1, mode, [[own, bitsIn[mode]!]]);
      if (mode === punct && pair !== undefined) go(i, i + 2, mode, [[pair, 5]]);
      if (mode !== punct) {
        if (codes[punct]![byte]! >= 0)
          go(i, i + 1, mode, [
            [0, bitsIn[mode]!],
            [codes[punct]![byte]!, 5],
          ]);
        if (pair !== undefined)
          go(i, i + 2, mode, [
            [0, bitsIn[mode]!],
            [pair, 5],
          ]);
      }
      if ((mode === lower || mode === digit) && codes[upper]![byte]! >= 0)
        go(i, i + 1, mode, [mode === lower ? [28, 5] : [15, 4], [codes[upper]![byte]!, 5]]);
      if (mode <= mixed)
        for (let length = 1; length <= Math.min(31, n - i); length++) {
          const cost = here.cost + 10 + 8 * length;
          if (cheaper(i + length, mode, cost))
            best[i + length]![mode] = {
              cost,
              writes: [
                [31, 5],
                [length, 5],
              ],
              from: i,
              mode,
              binary: length,
            };
        }
    }
    // longer binary runs are carried along open, one per mode: their cost does not depend on where
    // they end
    for (let mode = upper; mode <= mixed; mode++) {
      const here = best[i]![mode];
      let run = open[mode];
      if (here && (!run || here.cost + 21 < run.cost || i - run.from >= mostBinary))
        run = { cost: here.cost + 21, from: i };
      if (!run || i - run.from >= mostBinary) continue;
      open[mode] = run = { cost: run.cost + 8, from: run.from };
      const length = i + 1 - run.from;
      if (length > 31 && cheaper(i + 1, mode, run.cost))
        best[i + 1]![mode] = {
          cost: run.cost,
          writes: [
            [31, 5],
            [0, 5],
            [length - 31, 11],
          ],
          from: run.from,
          mode,
          binary: length,
        };
    }
  }
  let mode = 0;
  for (let m = 1; m < 5; m++)
    if ((best[n]![m]?.cost ?? Infinity) < (best[n]![mode]?.cost ?? Infinity)) mode = m;
  const path: Step[] = [];
  for (let at = n, m = mode; at >= 0;) {
    const step: Step = best[at]![m]!;
    path.unshift(step);
    [at, m] = [step.from, step.mode];
  }
  for (const step of path) {
    for (const [value, bits] of step.writes) out.append(value, bits);
    for (let k = 0; k < (step.binary ?? 0); k++) out.append(bytes[step.from + k]!, 8);
  }
}
