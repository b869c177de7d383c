/**
 * A growing run of bits, most significant first, as data streams of two-dimensional symbologies are
 * built.
 */
export class BitBuffer {
  private bytes: Uint8Array;
  /** Number of bits held. */
  length = 0;

  /** @param capacity expected size in bytes; grows when more is written. */
  constructor(capacity = 64) {
    this.bytes = new Uint8Array(capacity);
  }

  /** Appends the lowest `count` bits of `value`; `count` is 0 to 24. */
  append(value: number, count: number): void {
    const end = this.length + count;
    if ((end + 7) >> 3 > this.bytes.length) {
      const grown = new Uint8Array(Math.max(this.bytes.length * 2, (end + 7) >> 3));
      grown.set(this.bytes);
      this.bytes = grown;
    }
    let left = count;
    while (left > 0) {
      const free = 8 - (this.length & 7);
      const take = left < free ? left : free;
      const chunk = (value >>> (left - take)) & ((1 << take) - 1);
      this.bytes[this.length >> 3]! |= chunk << (free - take);
      this.length += take;
      left -= take;
    }
  }

  /**
   * The bytes written so far; the last one is filled with zeros. The view shares memory with the
   * buffer.
   */
  toBytes(): Uint8Array {
    return this.bytes.subarray(0, (this.length + 7) >> 3);
  }
}

/** Bytes of a payload at most, without writing them: no unit of a text takes more than three. */
export const mostBytes = (payload: string | Uint8Array): number =>
  typeof payload === 'string' ? payload.length * 3 : payload.length;
