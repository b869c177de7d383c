const crcTable = new Int32Array(256).map((_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  return c;
});

function crc32(bytes: Uint8Array): number {
  let c = -1;
  for (let i = 0; i < bytes.length; i++) c = crcTable[(c ^ bytes[i]!) & 255]! ^ (c >>> 8);
  return (c ^ -1) >>> 0;
}

/** Joins PNG chunks (ISO/IEC 15948) after the signature. */
export function pngFile(
  chunks: readonly (readonly [type: string, data: Uint8Array])[],
): Uint8Array {
  const size = chunks.reduce((sum, [, data]) => sum + data.length + 12, 8);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  out.set([137, 80, 78, 71, 13, 10, 26, 10]);
  let at = 8;
  for (const [type, data] of chunks) {
    view.setUint32(at, data.length);
    for (let i = 0; i < 4; i++) out[at + 4 + i] = type.charCodeAt(i);
    out.set(data, at + 8);
    view.setUint32(at + 8 + data.length, crc32(out.subarray(at + 4, at + 8 + data.length)));
    at += data.length + 12;
  }
  return out;
}
