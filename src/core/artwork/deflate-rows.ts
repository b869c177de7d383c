/**
 * Compresses the rows of a picture of few colours (zlib format, RFC 1950, with fixed Huffman codes,
 * RFC 1951). Such rows repeat themselves or the row above, so only two distances are looked at; for
 * codes this is several times quicker than a general compressor and nearly as small.
 */

/**
 * Codes of literals and lengths 0 to 285 with their bits reversed, as they are written from the
 * lowest bit.
 */
const codes = new Uint16Array(286);
const codeBits = new Uint8Array(286);
for (let symbol = 0; symbol < 286; symbol++) {
  const [bits, code] =
    symbol < 144
      ? [8, 0x30 + symbol]
      : symbol < 256
        ? [9, 0x190 + symbol - 144]
        : symbol < 280
          ? [7, symbol - 256]
          : [8, 0xc0 + symbol - 280];
  let reversed = 0;
  for (let i = 0; i < bits; i++) reversed |= ((code >> i) & 1) << (bits - 1 - i);
  codes[symbol] = reversed;
  codeBits[symbol] = bits;
}

/** For each match length 3 to 258: its symbol, extra bits and their value. */
const lengthSymbol = new Uint16Array(259);
const lengthExtraBits = new Uint8Array(259);
const lengthExtra = new Uint8Array(259);
for (let symbol = 257, length = 3; symbol < 285; symbol++) {
  const extra = symbol < 265 ? 0 : (symbol - 261) >> 2;
  for (let i = 0; i < 1 << extra && length < 258; i++, length++) {
    lengthSymbol[length] = symbol;
    lengthExtraBits[length] = extra;
    lengthExtra[length] = i;
  }
}
lengthSymbol[258] = 285;

/** Five reversed bits of a distance's symbol, its extra bits and their value. */
function distanceCode(distance: number): [code: number, bits: number, extra: number] {
  let symbol = distance - 1;
  let bits = 0;
  let base = distance;
  if (distance > 4) {
    const top = 31 - Math.clz32(distance - 1);
    bits = top - 1;
    symbol = 2 * top + (((distance - 1) >> bits) & 1);
    base = 1 + ((2 + (symbol & 1)) << bits);
  }
  let reversed = 0;
  for (let i = 0; i < 5; i++) reversed |= ((symbol >> i) & 1) << (4 - i);
  return [reversed, bits, distance - base];
}

/** @param stride bytes in a row; matches are looked for one byte and one row back */
export function deflateRows(data: Uint8Array, stride: number): Uint8Array {
  // at worst every byte is a literal of nine bits
  const out = new Uint8Array(Math.ceil((data.length * 9) / 8) + 16);
  out[0] = 0x78;
  out[1] = 0x01;
  let at = 2;
  let held = 0;
  let count = 0;
  const put = (value: number, bits: number) => {
    held |= value << count;
    count += bits;
    while (count >= 8) {
      out[at++] = held & 255;
      held >>>= 8;
      count -= 8;
    }
  };
  put(1, 1);
  put(1, 2);
  const near = distanceCode(1);
  const above = distanceCode(stride);
  const end = data.length;
  for (let i = 0; i < end;) {
    let best = 0;
    let code = near;
    const most = Math.min(258, end - i);
    if (i >= stride && data[i] === data[i - stride]) {
      let n = 1;
      while (n < most && data[i + n] === data[i + n - stride]) n++;
      best = n;
      code = above;
    }
    if (best < most && i > 0 && data[i] === data[i - 1]) {
      let n = 1;
      while (n < most && data[i + n] === data[i - 1]) n++;
      if (n >= best) {
        best = n;
        code = near;
      }
    }
    if (best < 3) {
      put(codes[data[i]!]!, codeBits[data[i]!]!);
      i++;
      continue;
    }
    const symbol = lengthSymbol[best]!;
    put(codes[symbol]!, codeBits[symbol]!);
    if (lengthExtraBits[best]) put(lengthExtra[best]!, lengthExtraBits[best]!);
    put(code[0], 5);
    if (code[1]) put(code[2], code[1]);
    i += best;
  }
  put(codes[256]!, codeBits[256]!);
  if (count > 0) put(0, 8 - count);
  let a = 1;
  let b = 0;
  for (let i = 0; i < end;) {
    // sums stay below 2^31 for so many bytes
    const until = Math.min(end, i + 3000);
    for (; i < until; i++) {
      a += data[i]!;
      b += a;
    }
    a %= 65521;
    b %= 65521;
  }
  for (const value of [b >> 8, b & 255, a >> 8, a & 255]) out[at++] = value;
  return out.subarray(0, at);
}
