import sharp from 'sharp';
import { encodePicture } from '../../core/drawing/pixels';
import { toBase64, type KeptPicture } from '../../core/drawing/picture';
import { Refusal } from './refusal';
import { isHeavySvg } from './svg-weight';

/**
 * Longer side of a kept picture, in pixels: enough for a logo at 600 dpi, small enough to lie in a
 * look.
 */
const longest = 320;

/**
 * Redraws a PNG, JPEG or SVG as plain pixels, so that no script, link or hidden part of the file is
 * kept.
 * @throws Refusal for other kinds of files and for pictures that cannot be drawn
 */
export async function keepPicture(
  name: string,
  bytes: Buffer,
  side = longest,
): Promise<KeptPicture> {
  const kind = kindOf(bytes);
  if (!kind) throw new Refusal(`${name} is not a PNG, JPEG or SVG picture. Choose another.`);
  if (kind === 'svg' && isHeavySvg(bytes))
    throw new Refusal(
      `${name} repeats its parts so often that drawing it takes too long. Save it as PNG and use that.`,
    );
  try {
    const { data, info } = await sharp(bytes, {
      limitInputPixels: mostPixels,
      ...(kind === 'svg' ? { density: await densityFor(bytes, side) } : {}),
    })
      .timeout({ seconds: 10 })
      .rotate()
      .resize(side, side, { fit: 'inside', withoutEnlargement: kind !== 'svg' })
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const png = encodePicture({
      width: info.width,
      height: info.height,
      rgba: new Uint8Array(data),
    });
    return { name, width: info.width, height: info.height, png: toBase64(png) };
  } catch {
    throw new Refusal(
      `${name} could not be drawn: the picture is damaged, larger than 50 million pixels, or takes too long to draw. Save it again, smaller, and try again.`,
    );
  }
}

/** A photograph of a telephone has 12 to 48 million. */
const mostPixels = 50_000_000;

/**
 * Dots to the inch at which an SVG is drawn twice as large as it is kept, however large it says
 * that it is.
 */
async function densityFor(bytes: Buffer, side: number): Promise<number> {
  const { width = side, height = side } = await sharp(bytes, {
    density: 72,
    limitInputPixels: false,
  }).metadata();
  return Math.min(2400, Math.max(1, (72 * 2 * side) / Math.max(width, height)));
}

function kindOf(bytes: Buffer): 'png' | 'jpeg' | 'svg' | undefined {
  if (bytes.subarray(0, 4).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47]))) return 'png';
  if (bytes.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff]))) return 'jpeg';
  return startsSvg(bytes.subarray(0, 4096).toString('utf8')) ? 'svg' : undefined;
}

/**
 * Whether a text is an SVG after its declaration, comments and document type, each looked at once.
 */
function startsSvg(text: string): boolean {
  for (let at = 0; ;) {
    const rest = text.slice(at).trimStart();
    if (/^<svg[\s>]/i.test(rest)) return true;
    const closing = rest.startsWith('<!--')
      ? '-->'
      : /^<(\?xml|!doctype svg)\b/i.test(rest)
        ? '>'
        : undefined;
    const end = closing === undefined ? -1 : rest.indexOf(closing, 4);
    if (closing === undefined || end < 0) return false;
    at = text.length - rest.length + end + closing.length;
  }
}
