import { PNG } from 'pngjs';

/** A small picture of one colour, as PNG. */
export function colourPng([r, g, b]: readonly [number, number, number], side = 24): Buffer {
  const png = new PNG({ width: side, height: side });
  for (let i = 0; i < side * side; i++) png.data.set([r, g, b, 255], i * 4);
  return PNG.sync.write(png);
}
