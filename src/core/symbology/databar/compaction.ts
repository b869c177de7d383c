/**
 * General purpose data compaction of GS1 DataBar Expanded (ISO/IEC 24724): numeric, alphanumeric
 * and ISO 646 encodation, switched so that the bits are fewest. Found by dynamic programming over
 * position and encodation.
 */
export const fnc1 = '\x1d';

type Mode = 0 | 1 | 2;
const numeric: Mode = 0;
const alphanumeric: Mode = 1;
const iso646: Mode = 2;

const isDigit = (c: string | undefined): boolean => c !== undefined && c >= '0' && c <= '9';
const isNumeric = (c: string | undefined): boolean => isDigit(c) || c === fnc1;
const bits = (value: number, count: number): string => value.toString(2).padStart(count, '0');
const numericValue = (c: string): number => (c === fnc1 ? 10 : Number(c));
const pair = (a: string, b: string): string => bits(11 * numericValue(a) + numericValue(b) + 8, 7);

const alphanumericSigns = '*,-./';
const isoSigns = '!"%&\'()*+,-./:;<=>?_ ';

/** Bits of one character in alphanumeric or ISO 646 encodation; undefined if it has none. */
function single(c: string, mode: Mode): string | undefined {
  if (c === fnc1) return '01111';
  if (isDigit(c)) return bits(Number(c) + 5, 5);
  const code = c.charCodeAt(0);
  if (mode === alphanumeric) {
    if (c >= 'A' && c <= 'Z') return bits(code - 65 + 32, 6);
    return alphanumericSigns.includes(c) ? bits(alphanumericSigns.indexOf(c) + 58, 6) : undefined;
  }
  if (c >= 'A' && c <= 'Z') return bits(code - 65 + 64, 7);
  if (c >= 'a' && c <= 'z') return bits(code - 97 + 90, 7);
  return isoSigns.includes(c) ? bits(isoSigns.indexOf(c) + 232, 8) : undefined;
}

interface Step {
  length: number;
  text: string;
}

/**
 * What compaction leaves open for the end: the bits, the encodation they end in, and a last digit
 * that waits for the room left.
 */
export interface Compacted {
  bits: string;
  ends: 'numeric' | 'other';
  /** A single last digit, still to be written in numeric encodation. */
  lastDigit?: string;
}

/**
 * Compacts a text of GS1 character set 82 plus space and {@link fnc1}. Characters outside it must
 * have been refused before.
 */
export function compact(text: string): Compacted {
  const n = text.length;
  const best: (Step | undefined)[][] = Array.from({ length: n + 1 }, () => [
    undefined,
    undefined,
    undefined,
  ]);
  const relax = (at: number, mode: Mode, from: Step | undefined, more: string) => {
    if (!from) return;
    const length = from.length + more.length;
    const known = best[at]![mode];
    if (!known || length < known.length) best[at]![mode] = { length, text: from.text + more };
  };
  best[0]![numeric] = { length: 0, text: '' };
  for (let i = 0; i < n; i++) {
    // latches: numeric to alphanumeric, between the other two, and back
    for (const [from, to, code] of [
      [numeric, alphanumeric, '0000'],
      [alphanumeric, iso646, '00100'],
      [iso646, alphanumeric, '00100'],
      [alphanumeric, numeric, '000'],
      [iso646, numeric, '000'],
    ] as const)
      relax(i, to, best[i]![from], code);
    const here = best[i]!;
    if (
      here[numeric] &&
      isNumeric(text[i]) &&
      isNumeric(text[i + 1]) &&
      !(text[i] === fnc1 && text[i + 1] === fnc1)
    )
      relax(i + 2, numeric, here[numeric], pair(text[i]!, text[i + 1]!));
    for (const mode of [alphanumeric, iso646] as const) {
      const code = here[mode] && single(text[i]!, mode);
      // after a separator the numeric encodation is in force by itself
      if (here[mode] && code) relax(i + 1, text[i] === fnc1 ? numeric : mode, here[mode], code);
    }
  }
  const ends: Compacted[] = [];
  if (best[n]![numeric]) ends.push({ bits: best[n]![numeric].text, ends: 'numeric' });
  for (const mode of [alphanumeric, iso646] as const)
    if (best[n]![mode]) ends.push({ bits: best[n]![mode].text, ends: 'other' });
  const waiting = n > 0 && isDigit(text[n - 1]) ? best[n - 1]![numeric] : undefined;
  if (waiting) ends.push({ bits: waiting.text, ends: 'numeric', lastDigit: text[n - 1] });
  // a waiting digit costs four bits at least
  const cost = (c: Compacted) => c.bits.length + (c.lastDigit ? 4 : 0);
  return ends.reduce((a, b) => (cost(b) < cost(a) ? b : a));
}

/**
 * Ends a compacted field at a symbol's capacity: says the waiting digit in four bits where only
 * they are left and in seven otherwise, and pads. Undefined when it does not fit.
 */
export function finish(
  { bits: said, ends, lastDigit }: Compacted,
  before: number,
  capacity: number,
): string | undefined {
  let out = said;
  let padding = ends === 'numeric' ? '0000' : '';
  if (lastDigit !== undefined) {
    const room = capacity - before - out.length;
    if (room < 4) return undefined;
    const short = room <= 6;
    out += short ? bits(Number(lastDigit) + 1, 4) : pair(lastDigit, fnc1);
    if (short) padding = '';
  }
  const room = capacity - before - out.length;
  if (room < 0) return undefined;
  while (padding.length < room) padding += '00100';
  return out + padding.slice(0, room);
}
