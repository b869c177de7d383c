/** Pictures out of and into the form in which looks keep them. */
import { Unzlib, zlibSync } from 'fflate';
import type { KeptPicture, Picture } from './picture';
import { pngFile } from './png-file';

/** Writes pixels as an 8-bit RGBA PNG without row filters. */
export function encodePicture({ width, height, rgba }: Picture): Uint8Array {
  const raw = new Uint8Array((width * 4 + 1) * height);
  for (let r = 0; r < height; r++)
    raw.set(rgba.subarray(r * width * 4, (r + 1) * width * 4), r * (width * 4 + 1) + 1);
  const header = new Uint8Array(13);
  const view = new DataView(header.buffer);
  view.setUint32(0, width);
  view.setUint32(4, height);
  header.set([8, 6, 0, 0, 0], 8);
  return pngFile([
    ['IHDR', header],
    ['IDAT', zlibSync(raw, { level: 6 })],
    ['IEND', new Uint8Array(0)],
  ]);
}

/**
 * Unpacks bytes to a known size, and stops if there are more. @throws Error if the size differs
 */
function inflated(bytes: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let at = 0;
  const wrong = () => new Error('This picture cannot be used in a look. Save it again as PNG.');
  const unpacker = new Unzlib((part) => {
    if (at + part.length > size) throw wrong();
    out.set(part, at);
    at += part.length;
  });
  const step = 4096;
  for (let from = 0; from < bytes.length; from += step)
    unpacker.push(bytes.subarray(from, from + step), from + step >= bytes.length);
  if (at !== size) throw wrong();
  return out;
}

const decoded = new Map<string, Picture>();

/**
 * The pixels of a kept picture.
 * @throws Error when it is not a PNG of the one form that {@link encodePicture} writes
 */
export function pictureOf({ png, width, height }: KeptPicture): Picture {
  const known = decoded.get(png);
  if (known) return known;
  const bytes = Uint8Array.from(atob(png), (c) => c.charCodeAt(0));
  const view = new DataView(bytes.buffer);
  const parts: Uint8Array[] = [];
  for (let at = 8; at + 8 <= bytes.length;) {
    const length = view.getUint32(at);
    if (String.fromCharCode(...bytes.subarray(at + 4, at + 8)) === 'IDAT')
      parts.push(bytes.subarray(at + 8, at + 8 + length));
    at += length + 12;
  }
  if (
    parts.length !== 1 ||
    view.getUint32(16) !== width ||
    view.getUint32(20) !== height ||
    bytes[24] !== 8 ||
    bytes[25] !== 6
  )
    throw new Error('This picture cannot be used in a look. Save it again as PNG.');
  const raw = inflated(parts[0]!, (width * 4 + 1) * height);
  const rgba = new Uint8Array(width * height * 4);
  for (let r = 0; r < height; r++) {
    if (raw[r * (width * 4 + 1)] !== 0)
      throw new Error('This picture cannot be used in a look. Save it again as PNG.');
    rgba.set(raw.subarray(r * (width * 4 + 1) + 1, (r + 1) * (width * 4 + 1)), r * width * 4);
  }
  const picture = { width, height, rgba };
  decoded.set(png, picture);
  if (decoded.size > 30) decoded.delete(decoded.keys().next().value!);
  return picture;
}

/** The picture turned clockwise by quarters. */
export function turnedPicture(picture: Picture, quarters: number): Picture {
  if (quarters === 0) return picture;
  const { width, height, rgba } = picture;
  const out = new Uint8Array(rgba.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      out.set(
        rgba.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
        (x * height + height - 1 - y) * 4,
      );
  return turnedPicture({ width: height, height: width, rgba: out }, quarters - 1);
}
