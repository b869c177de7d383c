/**
 * Code sets of MaxiCode (ISO/IEC 16023) and the fewest symbol characters for a message, found by
 * dynamic programming over position and set.
 */
type SetNumber = 0 | 1 | 2 | 3 | 4;

const range = (from: number, to: number): number[] =>
  Array.from({ length: to - from + 1 }, (_, i) => from + i);
const codes = (text: string): number[] => Array.from(text, (c) => c.charCodeAt(0));
const none = -1;
const controls = [none, 28, 29, 30, none];

/** The characters of the values 0 to 63 in sets A to E, as Latin-1 codes; -1 if there is none. */
const sets: readonly (readonly number[])[] = [
  [13, ...range(65, 90), ...controls, 32, none, ...range(34, 58)],
  [96, ...range(97, 122), ...controls, 123, none, 125, 126, 127, ...codes(';<=>?[\\]^_ ,./:@!|')],
  [
    ...range(192, 218),
    ...controls,
    ...range(219, 223),
    170,
    172,
    177,
    178,
    179,
    181,
    185,
    186,
    188,
    189,
    190,
    ...range(128, 137),
    none,
    32,
  ],
  [
    ...range(224, 250),
    ...controls,
    ...range(251, 255),
    161,
    168,
    171,
    175,
    176,
    180,
    183,
    184,
    187,
    191,
    ...range(138, 148),
    none,
    32,
  ],
  [
    ...range(0, 26),
    none,
    none,
    none,
    27,
    none,
    28,
    29,
    30,
    31,
    159,
    160,
    162,
    163,
    164,
    165,
    166,
    167,
    169,
    173,
    174,
    182,
    ...range(149, 158),
    none,
    32,
  ],
];
const values = sets.map(
  (set) =>
    new Map(set.map((code, value) => [code, value] as const).filter(([code]) => code !== none)),
);

const numberShift = 31;
const pad = [33, 33, undefined, undefined, 28];
const latchA = 58;

/** Characters that change to another set for good, from set to set. */
function latch(from: SetNumber, to: SetNumber): number[] {
  if (to === 0) return [from === 1 ? 63 : latchA];
  if (to === 1) return [63];
  // shift into C, D or E, then lock it
  return [58 + to, 58 + to];
}

/** The character that shifts to another set for one character; undefined if there is none. */
function shift(from: SetNumber, to: SetNumber): number | undefined {
  if (to === 0) return from === 1 ? 59 : undefined;
  if (to === 1) return from === 0 ? 59 : undefined;
  return 58 + to;
}

interface Step {
  cost: number;
  from: number;
  set: SetNumber;
  said: number[];
}

/**
 * The most symbol characters for a text of plain letters, digits and punctuation: all of it in one
 * of the first two sets, with a shift for each character of the other. Infinite if it has other
 * characters.
 */
export function plainCost(text: string): number {
  let [notFirst, notSecond] = [0, 0];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    const [first, second] = [values[0]!.has(code), values[1]!.has(code)];
    if (!first && !second) return Infinity;
    if (!first) notFirst++;
    if (!second) notSecond++;
  }
  return text.length + Math.min(notFirst, notSecond + 1);
}

/** The symbol characters for Latin-1 codes and the set in which they end. Starts in set A. */
export function messageCharacters(message: readonly number[]): { said: number[]; ends: number } {
  const n = message.length;
  const best: (Step | undefined)[][] = Array.from(
    { length: n + 1 },
    () => new Array<Step | undefined>(5),
  );
  const all = [0, 1, 2, 3, 4] as const;
  best[0]![0] = { cost: 0, from: -1, set: 0, said: [] };
  const relax = (at: number, set: SetNumber, step: Step) => {
    const known = best[at]![set];
    if (!known || step.cost < known.cost) best[at]![set] = step;
  };
  for (let i = 0; i <= n; i++) {
    for (let round = 0; round < 2; round++)
      for (const set of all) {
        const here = best[i]![set];
        if (!here) continue;
        for (const to of all) {
          if (to === set) continue;
          const said = latch(set, to);
          relax(i, to, { cost: here.cost + said.length, from: i, set, said });
        }
      }
    if (i === n) break;
    for (const set of all) {
      const here = best[i]![set];
      if (!here) continue;
      const step = (to: number, said: number[]) =>
        relax(to, set, { cost: here.cost + said.length, from: i, set, said });
      for (const other of all) {
        const value = values[other]!.get(message[i]!);
        if (value === undefined) continue;
        if (other === set) step(i + 1, [value]);
        else {
          const by = shift(set, other);
          if (by !== undefined) step(i + 1, [by, value]);
        }
      }
      // two or three characters of set A out of set B
      if (set === 1)
        for (const count of [2, 3]) {
          const said = message.slice(i, i + count).map((code) => values[0]!.get(code));
          if (said.length === count && said.every((value) => value !== undefined))
            step(i + count, [54 + count, ...(said as number[])]);
        }
      const digits = message.slice(i, i + 9);
      if (digits.length === 9 && digits.every((code) => code >= 48 && code <= 57)) {
        const number = Number(String.fromCharCode(...digits));
        step(i + 9, [numberShift, ...[24, 18, 12, 6, 0].map((by) => (number >>> by) & 63)]);
      }
    }
  }
  let set: SetNumber = 0;
  for (const s of all)
    if ((best[n]![s]?.cost ?? Infinity) < (best[n]![set]?.cost ?? Infinity)) set = s;
  const said: number[] = [];
  for (let at = n, s = set; at >= 0;) {
    const step = best[at]![s]!;
    said.unshift(...step.said);
    [at, s] = [step.from, step.set];
  }
  return { said, ends: set };
}

/** Fills a message up to `length` characters. */
export function padded(
  { said, ends }: { said: readonly number[]; ends: number },
  length: number,
): number[] {
  const out = [...said];
  if (out.length < length && pad[ends] === undefined) {
    out.push(latchA);
    ends = 0;
  }
  while (out.length < length) out.push(pad[ends]!);
  return out;
}

/**
 * Value of a capital, digit or sign in set A, for the postal code of the structured carrier
 * message.
 */
export const setAValue = (character: string): number | undefined =>
  values[0]!.get(character.charCodeAt(0));
