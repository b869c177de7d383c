import { seeded } from '../base/chance';
import type { GreyImage } from '../artwork/raster';

/** Faults of a printed sheet. To add one, add its entry here and its effect below. */
export const paperFaults = [
  { id: 'offset', name: 'an offset feed', about: 'The sheet is drawn in some mm too far and askew.' },
  { id: 'spread', name: 'spreading ink', about: 'Every dark module grows into its neighbours.' },
  { id: 'nozzle', name: 'dead nozzles', about: 'Fine white stripes run down the whole sheet.' },
  { id: 'crease', name: 'a crease', about: 'The paper was folded in the feed; along the fold the ink is broken.' },
  { id: 'toner', name: 'low toner', about: 'The print is pale, and gone in blotches.' },
] as const; // prettier-ignore
export type PaperFault = (typeof paperFaults)[number]['id'];

const perMm = (dpi: number): number => dpi / 25.4;

/**
 * A sheet as a printer with faults prints it and a scanner then scans it, never quite straight and
 * with a little noise. The same seed gives the same sheet.
 * @param sheet without faults, at `dpi` dots to the inch
 */
export function printedSheet(
  sheet: GreyImage,
  dpi: number,
  faults: readonly PaperFault[],
  seed: number,
): GreyImage {
  const chance = seeded(seed * 7919 + 17);
  for (let i = 0; i < 8; i++) chance();
  const between = (low: number, high: number) => low + chance() * (high - low);
  const has = (fault: PaperFault) => faults.includes(fault);
  const { width, height } = sheet;
  const mm = perMm(dpi);
  // all random numbers are drawn in one order, so that one fault more does not change the others
  const turn = between(-1, 1) * (Math.PI / 180);
  const offset = { x: between(-4, 4) * mm, y: between(-5, 5) * mm, turn: between(-1.5, 1.5) };
  const grown = between(0.08, 0.16) * mm;
  const stripes = Array.from({ length: 6 }, () => ({
    x: between(0.05, 0.95) * width,
    wide: between(0.15, 0.45) * mm,
  }));
  const fold = {
    y: between(0.2, 0.8) * height,
    slope: between(-0.35, 0.35),
    shift: between(0.3, 0.9) * mm,
    wide: between(0.3, 0.8) * mm,
  };
  const pale = between(0.2, 0.45);
  const blotch = {
    x: between(18, 40) * mm,
    y: between(25, 60) * mm,
    at: between(0, 6),
    beside: between(0, 6),
  };
  const source = has('spread') ? spread(sheet, Math.max(1, Math.round(grown))) : sheet;
  const angle = turn + (has('offset') ? (offset.turn * Math.PI) / 180 : 0);
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const move = has('offset') ? offset : { x: 0, y: 0 };
  const pixels = new Uint8Array(width * height);
  const dead = has('nozzle') ? stripes : [];
  const toner = has('toner');
  const creased = has('crease');
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [dx, dy] = [x - width / 2, y - height / 2];
      let sx = dx * cos + dy * sin + width / 2 - move.x;
      const sy = dy * cos - dx * sin + height / 2 - move.y;
      let broken = false;
      if (creased) {
        const beyond = sy - fold.y - (sx - width / 2) * fold.slope;
        broken = Math.abs(beyond) < fold.wide / 2;
        if (beyond > 0) sx += fold.shift;
      }
      let ink = 255 - greyBetween(source, sx, sy);
      if (ink > 0) {
        if (broken) ink *= 0.15;
        for (const stripe of dead) if (Math.abs(sx - stripe.x) < stripe.wide / 2) ink = 0;
        if (toner) {
          const wave =
            Math.sin(sx / blotch.x + blotch.at) * Math.sin(sy / blotch.y + blotch.beside);
          ink *= Math.max(0, pale + 0.35 * wave) * (0.6 + 0.8 * chance());
        }
      }
      pixels[y * width + x] = Math.max(0, Math.min(255, 250 - ink + (chance() - 0.5) * 12));
    }
  return { width, height, pixels };
}

/** The grey between four dots; white outside the picture. */
export function greyBetween({ width, height, pixels }: GreyImage, x: number, y: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  if (x0 < 0 || y0 < 0 || x0 >= width - 1 || y0 >= height - 1) return 255;
  const [u, v] = [x - x0, y - y0];
  const i = y0 * width + x0;
  return (
    pixels[i]! * (1 - u) * (1 - v) +
    pixels[i + 1]! * u * (1 - v) +
    pixels[i + width]! * (1 - u) * v +
    pixels[i + width + 1]! * u * v
  );
}

/** Every dark dot grown by a radius, first across and then down. */
function spread({ width, height, pixels }: GreyImage, radius: number): GreyImage {
  const across = new Uint8Array(pixels.length).fill(255);
  const out = new Uint8Array(pixels.length).fill(255);
  for (let i = 0; i < pixels.length; i++)
    if (pixels[i]! < 255) {
      const x = i % width;
      const [from, to] = [Math.max(0, x - radius) - x, Math.min(width - 1, x + radius) - x];
      for (let d = from; d <= to; d++) across[i + d] = Math.min(across[i + d]!, pixels[i]!);
    }
  for (let i = 0; i < pixels.length; i++)
    if (across[i]! < 255) {
      const y = Math.floor(i / width);
      const [from, to] = [Math.max(0, y - radius) - y, Math.min(height - 1, y + radius) - y];
      for (let d = from; d <= to; d++)
        out[i + d * width] = Math.min(out[i + d * width]!, across[i]!);
    }
  return { width, height, pixels: out };
}
