/**
 * Check codewords of PDF417 (ISO/IEC 15438): Reed-Solomon over GF(929) with the primitive element
 * 3, roots 3^1 to 3^k.
 */
const modulus = 929;
const generators = new Map<number, Int32Array>();

/** Coefficients of the generator polynomial of `degree`, highest first, without the leading 1. */
function generator(degree: number): Int32Array {
  let known = generators.get(degree);
  if (!known) {
    const g = new Int32Array(degree + 1);
    g[0] = 1;
    let root = 1;
    for (let i = 0; i < degree; i++) {
      root = (root * 3) % modulus;
      for (let j = i + 1; j > 0; j--) g[j] = (g[j]! + (modulus - root) * g[j - 1]!) % modulus;
    }
    generators.set(degree, (known = g.slice(1)));
  }
  return known;
}

/** The check codewords of error correction level 0 to 8, 2 to 512 of them. */
export function checkWords(data: readonly number[], level: number): number[] {
  const g = generator(2 ** (level + 1));
  const rest = new Int32Array(g.length);
  for (const word of data) {
    const factor = (word + rest[0]!) % modulus;
    for (let j = 0; j < g.length; j++)
      rest[j] = ((j + 1 < g.length ? rest[j + 1]! : 0) + (modulus - factor) * g[j]!) % modulus;
  }
  return Array.from(rest, (value) => (modulus - value) % modulus);
}
