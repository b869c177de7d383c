import { decode } from 'jpeg-js';
import { PNG } from 'pngjs';
import { beforeAll, describe, expect, test } from 'vitest';
import { renderJpeg } from '../../../src/core/artwork/jpeg';
import { renderPng } from '../../../src/core/artwork/png';
import type { Look } from '../../../src/core/look/look';
import { readImage, readsRight } from '../../../src/core/readback/readback';
import { encode, type SymbologyId } from '../../../src/core/symbology';
import { provideReader } from '../../../src/server/platform/reader';

beforeAll(() => provideReader());

const codes: [SymbologyId, string][] = [
  ['qr', 'https://marrambay.example/p/DH-0142'],
  ['data-matrix', 'DH-0142'],
  ['aztec', 'DH-0142'],
  ['pdf417', 'DH-0142 Dune House'],
  ['code-128', 'DH-0142'],
  ['ean-13', '2000411000017'],
];
const looks: [string, Partial<Look>][] = [
  ['plain', {}],
  ['round modules', { modules: 'pebble' }],
  ['a gradient', { gradient: { to: '#1b3f73', direction: 'down' } }],
  ['no background', { background: 'transparent' }],
  ['a frame', { frame: { shape: 'rounded', caption: '', captionAt: 'below' } }],
  ['turned', { turn: 90 }],
];

describe.each(codes)('%s', (symbology, payload) => {
  test.each(looks)('is exactly as many pixels wide as asked, and reads: %s', async (_, look) => {
    const symbol = encode(symbology, payload);
    for (const pixels of [400, 401, 517]) {
      const full = { ...look, pixels, quietZone: true };
      const png = PNG.sync.read(Buffer.from(renderPng(symbol, full)));
      expect([png.width, look.turn]).toEqual([pixels, look.turn]);
      const jpeg = renderJpeg(symbol, full);
      expect(decode(jpeg).width).toBe(pixels);
      const reading = await readImage(jpeg, symbology);
      expect([pixels, reading && readsRight(symbol, reading)]).toEqual([pixels, true]);
    }
  });
});

test('a square code is as high as it is wide, with whole modules and its ground to the edges', () => {
  const png = PNG.sync.read(
    Buffer.from(renderPng(encode('qr', 'DH-0142'), { pixels: 400, background: '#f5efd8' })),
  );
  expect([png.width, png.height]).toEqual([400, 400]);
  for (const at of [0, 399, 400 * 399, 400 * 400 - 1])
    expect([...png.data.subarray(at * 4, at * 4 + 3)]).toEqual([0xf5, 0xef, 0xd8]);
  // every run of dark pixels in a row is a whole number of modules
  const dark = (x: number, y: number) => png.data[(y * 400 + x) * 4]! < 128;
  const runs = new Set<number>();
  for (let y = 0; y < 400; y++)
    for (let x = 0, run = 0; x < 400; x++) {
      if (dark(x, y)) run++;
      else if (run > 0) {
        runs.add(run);
        run = 0;
      }
    }
  const module = Math.min(...runs);
  expect(module).toBe(Math.floor(400 / 29));
  for (const run of runs) expect(run % module).toBe(0);
});

test('fewer pixels than modules are refused with the least that does', () => {
  expect(() => renderPng(encode('qr', 'x'.repeat(400)), { pixels: 40 })).toThrow(/too few/);
});
