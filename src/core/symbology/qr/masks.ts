/** The eight data mask conditions of ISO/IEC 18004; true inverts the module at row r, column c. */
export const maskConditions: readonly ((r: number, c: number) => boolean)[] = [
  (r, c) => (r + c) % 2 === 0,
  (r) => r % 2 === 0,
  (_, c) => c % 3 === 0,
  (r, c) => (r + c) % 3 === 0,
  (r, c) => (Math.floor(r / 2) + Math.floor(c / 3)) % 2 === 0,
  (r, c) => ((r * c) % 2) + ((r * c) % 3) === 0,
  (r, c) => (((r * c) % 2) + ((r * c) % 3)) % 2 === 0,
  (r, c) => (((r + c) % 2) + ((r * c) % 3)) % 2 === 0,
];

function popcount(value: number): number {
  let v = value - ((value >>> 1) & 0x55555555);
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333);
  return Math.imul((v + (v >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/** Bits of `a` plus twice the bits of `b`, counted together. */
function countWithStarts(a: number, b: number): number {
  const a2 = a - ((a >>> 1) & 0x55555555);
  const b2 = b - ((b >>> 1) & 0x55555555);
  const n =
    (a2 & 0x33333333) +
    ((a2 >>> 2) & 0x33333333) +
    2 * ((b2 & 0x33333333) + ((b2 >>> 2) & 0x33333333));
  return Math.imul((n & 0x0f0f0f0f) + ((n >>> 4) & 0x0f0f0f0f), 0x01010101) >>> 24;
}

/**
 * Penalty of runs and finder-like patterns down the columns (ISO/IEC 18004, evaluation of data
 * masking, N1 and N3), 32 columns at a time. The other direction is the same on the transposed
 * matrix, whose columns may stand beside the first. Outside the symbol counts as light.
 * @param bits `size` rows of `words` 32-bit words, column c in bit c & 31 of word c >> 5
 * @param overlay laid over it by exclusive or
 * @param limit stops early once the penalty has reached it
 * @param columns how many columns there are; `size` of one matrix, twice that of both
 */
export function columnPenalty(
  bits: Int32Array,
  overlay: Int32Array,
  size: number,
  words: number,
  limit: number,
  columns = size,
): number {
  let penalty = 0;
  for (let w = 0; w < words && penalty < limit; w++) {
    const valid = w === words - 1 && columns & 31 ? (1 << (columns & 31)) - 1 : -1;
    // e1 to e3: whether rows r-1, r-2, r-3 equal their next row; runs: where five equal rows had
    // ended one row ago
    let e1 = 0;
    let e2 = 0;
    let e3 = 0;
    let runs = 0;
    // row r and the ten before it, for the pattern 1011101 with four light modules on a side
    let a1 = 0;
    let a2 = 0;
    let a3 = 0;
    let a4 = 0;
    let a5 = 0;
    let a6 = 0;
    let a7 = 0;
    let a8 = 0;
    let a9 = 0;
    let a10 = 0;
    let pending0 = 0;
    let pending1 = 0;
    let pending2 = 0;
    let pending3 = 0;
    const end = size + 4;
    for (let r = 0, i = w; r < end; r++, i += words) {
      const row = r < size ? bits[i]! ^ overlay[i]! : 0;
      if (r > 0 && r < size) {
        const e = ~(row ^ a1) & valid;
        const five = e & e1 & e2 & e3;
        if (five !== 0) penalty += countWithStarts(five, five & ~runs);
        runs = five;
        e3 = e2;
        e2 = e1;
        e1 = e;
      }
      // a pattern that ended four rows ago and had no light before it needs the four rows since to
      // be light
      const after = pending3 & ~(row | a1 | a2 | a3);
      if (after !== 0) penalty += 40 * popcount(after);
      pending3 = pending2;
      pending2 = pending1;
      pending1 = pending0;
      pending0 = 0;
      if (r < size) {
        const pattern = row & ~a1 & a2 & a3 & a4 & ~a5 & a6;
        if (pattern !== 0) {
          const before = pattern & ~(a7 | a8 | a9 | a10);
          if (before !== 0) penalty += 40 * popcount(before);
          pending0 = pattern & ~before;
        }
      }
      if (penalty >= limit) return penalty;
      a10 = a9;
      a9 = a8;
      a8 = a7;
      a7 = a6;
      a6 = a5;
      a5 = a4;
      a4 = a3;
      a3 = a2;
      a2 = a1;
      a1 = row;
    }
  }
  return penalty;
}

/**
 * Penalty of 2 × 2 blocks of one colour (N2) and of the share of dark modules (N4), over the first
 * `size` columns of `bits` with `overlay` laid over it by exclusive or.
 */
export function maskedBlockPenalty(
  bits: Int32Array,
  overlay: Int32Array,
  size: number,
  words: number,
): number {
  let blocks = 0;
  let dark = 0;
  const used = (size + 31) >> 5;
  const partial = size & 31;
  const lastColumns = partial ? (1 << partial) - 1 : -1;
  // a block needs a column to its right
  const lastBlocks = lastColumns >>> 1;
  for (let w = 0; w < used; w++) {
    const last = w === used - 1;
    if (last && lastBlocks === 0) {
      // one column has come over into this word, and no block begins in it
      for (let r = 0, at = w; r < size; r++, at += words) dark += (bits[at]! ^ overlay[at]!) & 1;
      continue;
    }
    const columns = last ? lastColumns : -1;
    const valid = last ? lastBlocks : -1;
    let above = 0;
    let rightAbove = 0;
    for (let r = 0, at = w; r < size; r++, at += words) {
      const here = (bits[at]! ^ overlay[at]!) & columns;
      dark += popcount(here);
      const right = (here >>> 1) | (last ? 0 : (bits[at + 1]! ^ overlay[at + 1]!) << 31);
      if (r > 0) {
        const equal = ~(here ^ above) & ~(here ^ right) & ~(here ^ rightAbove) & valid;
        if (equal !== 0) blocks += popcount(equal);
      }
      above = here;
      rightAbove = right;
    }
  }
  const total = size * size;
  const steps = Math.ceil(Math.abs(dark * 20 - total * 10) / total) - 1;
  return blocks * 3 + Math.max(0, steps) * 10;
}
