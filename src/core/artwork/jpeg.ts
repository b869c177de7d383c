import { encode } from 'jpeg-js';
import { defaultLook, type Look } from '../look/look';
import type { CodeSymbol } from '../symbology';
import { pixelArt, renderPixels } from './png';

/** Little enough compression that the edges of modules stay clean. */
const quality = 95;

/**
 * A symbol as a JPEG with its resolution, on white if its background is transparent. For programs
 * that accept nothing else.
 */
export function renderJpeg(symbol: CodeSymbol, look: Partial<Look> = {}): Uint8Array {
  const full = { ...defaultLook, ...look };
  const { art, scale } = pixelArt(symbol, full);
  const { width, height, rgba } = renderPixels(art, scale);
  for (let i = 0; i < rgba.length; i += 4) {
    const opacity = rgba[i + 3]! / 255;
    for (let k = 0; k < 3; k++)
      rgba[i + k] = Math.round(rgba[i + k]! * opacity + 255 * (1 - opacity));
    rgba[i + 3] = 255;
  }
  const out = Uint8Array.from(encode({ width, height, data: rgba }, quality).data);
  // JFIF keeps dots per inch in bytes 13 to 17: unit 1, then across and down
  if (out[6] === 0x4a && out[7] === 0x46)
    out.set([1, full.dpi >> 8, full.dpi & 255, full.dpi >> 8, full.dpi & 255], 13);
  return out;
}
