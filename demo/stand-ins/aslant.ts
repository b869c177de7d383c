import { seeded } from '../../src/core/base/chance';
import type { GreyImage } from '../../src/core/artwork/raster';
import { greyBetween } from '../../src/core/readback/paper-faults';

/**
 * Where the four corners of the sheet lie in the photograph, as shares of its width and height: top
 * left, top right, bottom right, bottom left.
 */
const corners = [
  [0.16, 0.1],
  [0.86, 0.05],
  [0.95, 0.94],
  [0.05, 0.9],
] as const;

/**
 * A sheet on a table as a telephone sees it from one side: aslant, in uneven light, with a little
 * noise. The same each time.
 */
export function aslant(sheet: GreyImage, width: number, height: number): GreyImage {
  const chance = seeded(29);
  const onSheet = projection(corners.map(([x, y]) => [x * width, y * height]));
  const pixels = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = onSheet(x, y);
      const inside = u! >= 0 && v! >= 0 && u! < 1 && v! < 1;
      const grain = 92 + 12 * Math.sin(y / 37 + 2 * Math.sin(x / 190));
      const grey = inside
        ? 0.86 * greyBetween(sheet, u! * sheet.width, v! * sheet.height) + 14
        : grain;
      const light = 0.78 + 0.24 * (1 - x / width) * (1 - y / (2 * height));
      pixels[y * width + x] = Math.max(0, Math.min(255, grey * light + (chance() - 0.5) * 14));
    }
  return { width, height, pixels };
}

/**
 * A projection of four corners onto the unit square (Heckbert 1989, the inverse of the square to a
 * quadrilateral).
 */
function projection(quad: readonly (readonly number[])[]): (x: number, y: number) => number[] {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = quad as [number, number][] as [
    [number, number],
    [number, number],
    [number, number],
    [number, number],
  ];
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const whole = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / whole;
  const h = (dx1 * sy - sx * dy1) / whole;
  const [a, b, c] = [x1 - x0 + g * x1, x3 - x0 + h * x3, x0];
  const [d, e, f] = [y1 - y0 + g * y1, y3 - y0 + h * y3, y0];
  // the adjugate of the matrix, which is its inverse but for a factor
  const inverse = [
    [e - f * h, c * h - b, b * f - c * e],
    [f * g - d, a - c * g, c * d - a * f],
    [d * h - e * g, b * g - a * h, a * e - b * d],
  ] as const;
  return (x, y) => {
    const [u, v, w] = inverse.map(([p, q, r]) => p * x + q * y + r);
    return [u! / w!, v! / w!];
  };
}

/** Somebody wrote over it: dark strokes round a place, in px. */
export function scribbled(image: GreyImage, at: { x: number; y: number }, reach: number): void {
  const { width, height, pixels } = image;
  for (let t = 0; t < 400; t++) {
    const turn = t / 14;
    const [x, y] = [
      Math.round(at.x + Math.cos(turn) * reach * Math.sin(t / 31)),
      Math.round(at.y + Math.sin(turn * 1.3) * reach * 0.8),
    ];
    for (let dy = -6; dy <= 6; dy++)
      for (let dx = -6; dx <= 6; dx++) {
        const [px, py] = [x + dx, y + dy];
        if (px >= 0 && py >= 0 && px < width && py < height) pixels[py * width + px] = 30;
      }
  }
}
