/**
 * The three clusters of 929 patterns of PDF417 (ISO/IEC 15438). A pattern is four bars and four
 * spaces of 1 to 6 modules, 17 in all; its cluster is (b1 - b2 + b3 - b4) modulo 9, which is 0, 3
 * or 6. Within a cluster the patterns stand in the order of their edge-to-edge distances, and the
 * standard leaves some out: `taken` says, pattern by pattern in that order, which it keeps.
 *
 * How this was had and proven is told in docs/decisions/0008: the order and the selection were
 * found by asking the independent reader for every pattern; then every codeword of every cluster
 * was compared with an independent writer (tests/core/symbology/pdf417.test.ts).
 */
const taken = [
  // prettier-ignore
  'ff4d3fd03fc3c5ff7d7ff1fcf7ff57fd7d7ffdff57ff545541ffd0ff53f5dfffcf5d55e20f5eaa0ef4ffff7cb6d74bd76aef7fffd7abd3bdd7ffebb7' +
    '528aa528003efabfebefffef2db9a8f6db3bbffef6eaf2f5d569b48eedabefffb6dfeb5736bb7affdefddb7aaa95494000137f7ffff7dedd5e5dedff' +
    'fd5dbf5aae6d76f7ffddfbb6feed6ecffff7edff5df555555004d557cff6737f7ebb77aeb7bfbb7f5ff5defbfffe0000000000000000000000000000' +
    '00000000000',
  // prettier-ignore
  'fffffffffffffdfeffffffffffffeffffffffffffffffffffffefcfffffffffffeffffdf6dbfd76ff5dbfd76eeffffbdfbdfbdfbdffff7eff7efffff' +
    'fff3ffffffffffffef7ef7ef7ef7ffffdff77f6ff6ff6ffffffffffffffffffffffff7f7f7f7fffffffffffffffffffefffffffffffffffffff3f3ff' +
    'ffffff7ff00',
  // prettier-ignore
  'ffe7ff7fffffeffefffffffffffffffeffffdfffffffffff5dbff7ffffffffbdffffffefffffffffffffffef7fffffffebb7f6fffffef7ffffdfffff' +
    'ffdffffbffffeefffffff5dbfb7fffffbdfffff7fffff3ffffffbfffff7bfffff5dbfb7fffef7fffbffe3fffffffbfffdbfffefedfffffffffffff7f' +
    'ffffffff000',
];

/** Widths of a pattern, bars and spaces in turn. */
type Widths = readonly number[];

/** All ways to fill 17 modules with eight elements of 1 to 6. */
function* allWidths(count = 8, left = 17): Generator<number[]> {
  if (count === 0) {
    if (left === 0) yield [];
    return;
  }
  for (let width = 1; width <= 6; width++)
    if (left - width >= count - 1 && left - width <= (count - 1) * 6)
      for (const rest of allWidths(count - 1, left - width)) yield [width, ...rest];
}

/**
 * Distances between like edges from the first space on, then the first space: what patterns are
 * ordered by.
 */
const orderOf = (w: Widths): number[] => [
  w[1]! + w[2]!,
  w[2]! + w[3]!,
  w[3]! + w[4]!,
  w[4]! + w[5]!,
  w[5]! + w[6]!,
  w[1]!,
];

function compare(a: Widths, b: Widths): number {
  const [x, y] = [orderOf(a), orderOf(b)];
  const at = x.findIndex((value, i) => value !== y[i]);
  return at < 0 ? 0 : x[at]! - y[at]!;
}

const toBits = (widths: Widths): number =>
  widths.reduce((bits, width, i) => (bits << width) | (i % 2 === 0 ? (1 << width) - 1 : 0), 0);

let clusters: Int32Array[] | undefined;

function buildClusters(): Int32Array[] {
  const sorted: number[][][] = [[], [], []];
  for (const w of allWidths()) {
    const cluster = (w[0]! - w[2]! + w[4]! - w[6]! + 18) % 9;
    if (cluster % 3 === 0) sorted[cluster / 3]!.push(w);
  }
  return sorted.map((list, k) => {
    const keeps = (i: number) => (parseInt(taken[k]![i >> 2]!, 16) >> (3 - (i & 3))) & 1;
    return Int32Array.from(
      list
        .sort(compare)
        .filter((_, i) => keeps(i))
        .map(toBits),
    );
  });
}

/** The 17 modules of a codeword in cluster 0, 1 or 2 (the row modulo 3), the first in bit 16. */
export function patternBits(cluster: number, codeword: number): number {
  clusters ??= buildClusters();
  return clusters[cluster]![codeword]!;
}
