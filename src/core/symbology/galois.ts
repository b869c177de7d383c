/**
 * Arithmetic in GF(2^m) and Reed-Solomon encoding over it, as two-dimensional symbologies use it.
 * Elements are numbers 0 to 2^m - 1; addition is exclusive or.
 */
export class GaloisField {
  readonly size: number;
  readonly exp: Uint16Array;
  readonly log: Uint16Array;

  /**
   * @param primitive the primitive polynomial with its leading term, such as 0x11d for QR's
   * GF(256).
   */
  constructor(primitive: number, size: number) {
    this.size = size;
    this.exp = new Uint16Array(size * 2);
    this.log = new Uint16Array(size);
    let value = 1;
    for (let i = 0; i < size - 1; i++) {
      this.exp[i] = value;
      this.log[value] = i;
      value <<= 1;
      if (value >= size) value ^= primitive;
    }
    for (let i = size - 1; i < size * 2; i++) this.exp[i] = this.exp[i - (size - 1)]!;
  }

  multiply(a: number, b: number): number {
    return a === 0 || b === 0 ? 0 : this.exp[this.log[a]! + this.log[b]!]!;
  }
}

/**
 * Works out Reed-Solomon check words for one generator polynomial of `degree`, with roots a^first …
 * a^(first+degree-1).
 */
export class ReedSolomon {
  readonly degree: number;
  private readonly size: number;
  /**
   * Row f holds f times the generator without its leading term: a check word costs one row added.
   */
  private readonly products: Uint16Array;
  /**
   * The same rows for a field of bytes, four to a word with the first on top, so that four check
   * words are worked on at once; empty for other fields.
   */
  private readonly packed: Int32Array;
  private readonly register: Int32Array;

  constructor(field: GaloisField, degree: number, firstRoot = 0) {
    this.degree = degree;
    this.size = field.size;
    const generator = new Uint16Array(degree + 1);
    generator[0] = 1;
    for (let i = 0; i < degree; i++) {
      const root = field.exp[(i + firstRoot) % (field.size - 1)]!;
      for (let j = i + 1; j > 0; j--) generator[j]! ^= field.multiply(generator[j - 1]!, root);
    }
    this.products = new Uint16Array(field.size * degree);
    for (let f = 1; f < field.size; f++)
      for (let j = 0; j < degree; j++)
        this.products[f * degree + j] = field.multiply(f, generator[j + 1]!);
    const words = field.size === 256 ? (degree + 3) >> 2 : 0;
    this.register = new Int32Array(words);
    this.packed = new Int32Array(256 * words);
    for (let f = 1; f < 256 && words > 0; f++)
      for (let j = 0; j < degree; j++)
        this.packed[f * words + (j >> 2)]! |= this.products[f * degree + j]! << (24 - 8 * (j & 3));
  }

  /** Writes the check words of `data[from..to)` into `out[at..at+degree)`. */
  encode(
    data: ArrayLike<number>,
    from: number,
    to: number,
    out: Uint8Array | Uint16Array,
    at: number,
  ): void {
    if (this.register.length > 0) return this.encodeBytes(data, from, to, out, at);
    const { degree, products } = this;
    const last = at + degree - 1;
    for (let j = at; j <= last; j++) out[j] = 0;
    for (let i = from; i < to; i++) {
      const row = ((data[i]! ^ out[at]!) & (this.size - 1)) * degree;
      for (let j = 0; j < degree - 1; j++) out[at + j] = out[at + j + 1]! ^ products[row + j]!;
      out[last] = products[row + degree - 1]!;
    }
  }

  private encodeBytes(
    data: ArrayLike<number>,
    from: number,
    to: number,
    out: Uint8Array | Uint16Array,
    at: number,
  ): void {
    const { degree, packed, register } = this;
    const words = register.length;
    register.fill(0);
    for (let i = from; i < to; i++) {
      let row = ((data[i]! & 255) ^ (register[0]! >>> 24)) * words;
      let k = 0;
      for (; k < words - 1; k++, row++)
        register[k] = ((register[k]! << 8) | (register[k + 1]! >>> 24)) ^ packed[row]!;
      register[k] = (register[k]! << 8) ^ packed[row]!;
    }
    for (let j = 0; j < degree; j++) out[at + j] = (register[j >> 2]! >>> (24 - 8 * (j & 3))) & 255;
  }
}

const coders = new WeakMap<GaloisField, Map<number, ReedSolomon>>();

/** The coder of a field, degree and first root; its tables are worked out once. */
export function coderFor(field: GaloisField, degree: number, firstRoot = 0): ReedSolomon {
  let known = coders.get(field);
  if (!known) coders.set(field, (known = new Map()));
  const key = degree * 2 + firstRoot;
  let coder = known.get(key);
  if (!coder) known.set(key, (coder = new ReedSolomon(field, degree, firstRoot)));
  return coder;
}
