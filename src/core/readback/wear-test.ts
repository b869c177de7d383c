import { seeded } from '../base/chance';
import { rasterise, type GreyImage } from '../artwork/raster';
import { artItems, symbolArt } from '../artwork/symbol-art';
import type { Look } from '../look/look';
import { expectedRead, type CodeSymbol, type EncodeOptions } from '../symbology';
import { readImage, readsRight } from './readback';
import { shareBetween, wanted, type Wear, type WearCurve } from './wear';

/** Pixels a module of the picture that is worn. */
const scale = 6;

/**
 * Measures what a code survives by reading it again and again under growing damage. The same seed
 * gives the same damage.
 * @param tries how often each amount is tried at first if chance has a part; four times as often
 *   where it decides
 */
export async function wearTest(
  symbol: CodeSymbol,
  look: Look,
  wear: Wear,
  options: EncodeOptions = {},
  { seed = 1, tries = 16 }: { seed?: number; tries?: number } = {},
): Promise<WearCurve> {
  const art = symbolArt(symbol, look);
  // light around the code as on a piece, and white if the code has no background
  const margin = 3;
  const crop = {
    x: -margin,
    y: -margin,
    width: art.columns + 2 * margin,
    height: art.rows + 2 * margin,
  };
  const clean = rasterise(artItems(art, 0, 0, 1), crop, scale * 25.4);
  // chance and cover stay within the symbol itself
  const turned = look.turn === 90 || look.turn === 270;
  const { x, y } = art.layout;
  const width = symbol.columns;
  const height = art.layout.barsHeight;
  const box = turned ? { x: y, y: x, width: height, height: width } : { x, y, width, height };
  const area = {
    x: (box.x + margin) * scale,
    y: (box.y + margin) * scale,
    width: box.width * scale,
    height: box.height * scale,
  };
  const expected = symbol.readingHash ? undefined : expectedRead(symbol, options).text;
  const points: WearCurve['points'] = [];
  let survives: number | undefined;
  const range: WearCurve['range'] = {};
  const unbroken = { all: true, surely: true, perhaps: true };
  for (const amount of wear.amounts) {
    const chance = wear.chance && amount > 0;
    let read = 0;
    let count = 0;
    const tryTo = async (most: number) => {
      for (; count < most; count++) {
        const reading = await readImage(
          damaged(clean, wear.id, amount, area, seeded(seed * 7919 + count)),
          symbol.symbology,
        );
        if (
          reading &&
          (expected === undefined ? readsRight(symbol, reading) : reading.text === expected)
        )
          read++;
      }
    };
    await tryTo(chance ? tries : 1);
    // if the result is not clear, more tries decide
    if (chance && read > tries * 0.2 && read < tries) await tryTo(4 * tries);
    points.push({ amount, read, tried: count });
    const [low, high] = chance ? shareBetween(read, count) : [read, read];
    unbroken.all &&= read >= count * wanted;
    unbroken.surely &&= low >= wanted;
    unbroken.perhaps &&= high >= wanted;
    if (unbroken.all) survives = amount;
    if (unbroken.surely) range.least = amount;
    if (unbroken.perhaps) range.most = amount;
    // nothing is read any more, twice in a row: more damage will not help
    if (points.length > 1 && points.slice(-2).every((p) => p.read === 0)) break;
  }
  return { wear: wear.id, moduleMm: art.layout.moduleMm, points, survives, range };
}

interface Area {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A picture with one kind of damage. */
function damaged(
  image: GreyImage,
  wear: string,
  amount: number,
  area: Area,
  random: () => number,
): GreyImage {
  if (wear === 'corner' || wear === 'middle') return covered(image, wear, amount / 100, area);
  if (wear === 'scattered') return scattered(image, amount / 100, area, random);
  if (wear === 'blur') return blurred(image, amount * scale);
  if (wear === 'faded')
    return {
      ...image,
      pixels: image.pixels.map((v) => Math.round(255 - (255 - v) * (1 - amount / 100))),
    };
  if (wear === 'spread') return spread(image, Math.round((amount / 100) * scale));
  if (wear === 'tilt') return tilted(image, (amount * Math.PI) / 180);
  return resized(image, amount / scale);
}

/** A patch of grey of the same proportion as the code. */
function covered(image: GreyImage, wear: string, share: number, area: Area): GreyImage {
  const side = Math.sqrt(share);
  const [w, h] = [area.width * side, area.height * side];
  // the corner without a finder in the QR family is the lower right
  const x = wear === 'corner' ? area.x + area.width - w : area.x + (area.width - w) / 2;
  const y = wear === 'corner' ? area.y + area.height - h : area.y + (area.height - h) / 2;
  const pixels = image.pixels.slice();
  for (let r = Math.round(y); r < Math.round(y + h); r++)
    pixels.fill(128, r * image.width + Math.round(x), r * image.width + Math.round(x + w));
  return { ...image, pixels };
}

/**
 * Specks of half a module to one and a half across, light or dark, until the share of the area is
 * reached.
 */
function scattered(image: GreyImage, share: number, area: Area, random: () => number): GreyImage {
  const pixels = image.pixels.slice();
  const hit = new Uint8Array(pixels.length);
  const wanted = share * area.width * area.height;
  for (let done = 0; done < wanted;) {
    const radius = (0.25 + random() * 0.5) * scale;
    const cx = area.x + random() * area.width;
    const cy = area.y + random() * area.height;
    const shade = random() < 0.5 ? 0 : 255;
    for (let y = Math.max(0, Math.floor(cy - radius)); y < Math.min(image.height, cy + radius); y++)
      for (
        let x = Math.max(0, Math.floor(cx - radius));
        x < Math.min(image.width, cx + radius);
        x++
      ) {
        const i = y * image.width + x;
        if (hit[i] || (x - cx) ** 2 + (y - cy) ** 2 > radius * radius) continue;
        hit[i] = 1;
        pixels[i] = shade;
        done++;
      }
  }
  return { ...image, pixels };
}

/** Three box blurs, which come near to a Gaussian of `sigma` pixels. */
function blurred(image: GreyImage, sigma: number): GreyImage {
  const radius = Math.round((Math.sqrt(4 * sigma * sigma + 1) - 1) / 2);
  if (radius < 1) return image;
  const { width, height } = image;
  let from = image.pixels;
  const pass = (lines: number, length: number, at: (line: number, i: number) => number) => {
    const out = new Uint8Array(from.length);
    for (let line = 0; line < lines; line++) {
      let sum = 0;
      const edge = (i: number) => from[at(line, Math.min(length - 1, Math.max(0, i)))]!;
      for (let i = -radius; i <= radius; i++) sum += edge(i);
      for (let i = 0; i < length; i++) {
        out[at(line, i)] = Math.round(sum / (2 * radius + 1));
        sum += edge(i + radius + 1) - edge(i - radius);
      }
    }
    from = out;
  };
  for (let k = 0; k < 3; k++) {
    pass(height, width, (line, i) => line * width + i);
    pass(width, height, (line, i) => i * width + line);
  }
  return { width, height, pixels: from };
}

/**
 * Every dark place grown by `radius` pixels on all sides: the darkest of a square, row-wise and
 * then down.
 */
function spread(image: GreyImage, radius: number): GreyImage {
  const { width, height } = image;
  let pixels = image.pixels;
  for (const step of [1, width]) {
    const from = pixels;
    pixels = from.slice();
    for (let i = 0; i < from.length; i++)
      for (let k = -radius; k <= radius; k++) {
        const at = i + k * step;
        if (
          at < 0 ||
          at >= from.length ||
          (step === 1 && Math.floor(at / width) !== Math.floor(i / width))
        )
          continue;
        if (from[at]! < pixels[i]!) pixels[i] = from[at]!;
      }
  }
  return { width, height, pixels };
}

/** Value between the pixels; white outside. */
function sample({ width, height, pixels }: GreyImage, x: number, y: number): number {
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const at = (u: number, v: number) =>
    u < 0 || v < 0 || u >= width || v >= height ? 255 : pixels[v * width + u]!;
  const [fx, fy] = [x - x0, y - y0];
  return (
    (at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx) * (1 - fy) +
    (at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx) * fy
  );
}

/**
 * As a camera sees the code when it is turned away about its upright axis, from five times its
 * width.
 */
function tilted(image: GreyImage, angle: number): GreyImage {
  const { width, height } = image;
  const distance = 5 * width;
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [x - width / 2, y - height / 2];
      const s = (u * distance) / (distance * Math.cos(angle) + u * Math.sin(angle));
      const depth = 1 - (s * Math.sin(angle)) / distance;
      out[y * width + x] = Math.round(sample(image, s + width / 2, v * depth + height / 2));
    }
  return { width, height, pixels: out };
}

/**
 * Fewer pixels, each the mean of what it covers, as from a camera further away; edges are not
 * aligned.
 */
function resized(image: GreyImage, factor: number): GreyImage {
  const width = Math.max(1, Math.round(image.width * factor));
  const height = Math.max(1, Math.round(image.height * factor));
  const pixels = new Uint8Array(width * height);
  const step = 1 / factor;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      let count = 0;
      for (let v = (y + 0.13) * step; v < (y + 1.13) * step; v += 1)
        for (let u = (x + 0.29) * step; u < (x + 1.29) * step; u += 1) {
          sum += sample(image, u, v);
          count++;
        }
      pixels[y * width + x] = Math.round(sum / count);
    }
  return { width, height, pixels };
}
