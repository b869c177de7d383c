import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fillBits, rasterise } from '../../../src/core/artwork/raster';
import { short } from '../../../src/core/drawing/numbers';
import { edgesOf, mapPath, pathText, roundedPath, type Path } from '../../../src/core/drawing/path';
import { mmPerInch } from '../../../src/core/look/look';

const inside = { min: 0, max: 20, noNaN: true, noDefaultInfinity: true };
const point = fc.tuple(fc.double(inside), fc.double(inside));

/** Closed outlines of lines and curves that cross themselves as they like. */
const outline = fc
  .array(
    fc.tuple(
      point,
      fc.array(fc.oneof(fc.tuple(point), fc.tuple(point, point, point)), { minLength: 2 }),
    ),
    { minLength: 1, maxLength: 4 },
  )
  .map((parts): Path =>
    parts.flatMap(([from, steps]) => [
      ...[0, ...from],
      ...steps.flatMap((points) => [points.length === 1 ? 1 : 2, ...points.flat()]),
      3,
    ]),
  );

describe('numbers in artwork', () => {
  it('are the nearest with so many decimals, without zeros at their end', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -2000, max: 2000, noNaN: true }),
        fc.integer({ min: 0, max: 6 }),
        (value, places) => {
          const text = short(value, places);
          expect(text).toMatch(/^-?\d+(\.\d*[1-9])?$/);
          expect(text).not.toBe('-0');
          expect((text.split('.')[1] ?? '').length).toBeLessThanOrEqual(places);
          expect(Math.abs(Number(text) - value)).toBeLessThanOrEqual(0.5 / 10 ** places + 1e-9);
          // the same again, however it is kept
          expect(short(value, places)).toBe(text);
        },
      ),
    );
  });

  it('are written as they stand when they are whole', () => {
    for (const value of [0, 7, -3, 16384, 1e6]) expect(short(value)).toBe(String(value));
    expect(short(-0.0001)).toBe('0');
    expect(short(16.3841)).toBe('16.384');
  });
});

describe('outlines', () => {
  it('are written letter first for SVG and letter last for PDF', () => {
    const path = [0, 1, 2.5, 1, 3.14159, 4, 2, 1, 2, 3, 4, 5, 6.005, 3];
    expect(pathText(path, 'svg', 2)).toBe('M1 2.5L3.14 4C1 2 3 4 5 6.01Z');
    expect(pathText(path, 'postfix')).toBe('1 2.5 m\n3.142 4 l\n1 2 3 4 5 6.005 c\nh\n');
  });

  it('lie in the box of their chords, which begin where the last one ends', () => {
    fc.assert(
      fc.property(outline, (path) => {
        const { edges, minX, minY, maxX, maxY } = edgesOf(path);
        const xs = [...edges].filter((_, i) => i % 2 === 0);
        const ys = [...edges].filter((_, i) => i % 2 === 1);
        expect([minX, minY, maxX, maxY]).toEqual([
          ...[xs, ys].map((all) => Math.min(...all)),
          ...[xs, ys].map((all) => Math.max(...all)),
        ]);
        // every way round comes back to where it began
        for (const all of [xs, ys]) {
          const sum = all.reduce((total, value, i) => total + (i % 2 === 0 ? -value : value), 0);
          expect(sum).toBeCloseTo(0, 6);
        }
      }),
    );
  });

  it('keep their length in numbers when their points are moved', () => {
    const path = roundedPath(1, 2, 10, 8, [1, 2, 3, 0]);
    const there = mapPath(path, (x, y) => [x + 3, -y]);
    expect(there).toHaveLength(path.length);
    const back = mapPath(there, (x, y) => [x - 3, -y]);
    back.forEach((value, i) => expect(value).toBeCloseTo(path[i]!, 9));
  });

  it('fill the same dots as bits and as greys', () => {
    const size = { width: 37, height: 23 };
    const stride = Math.ceil(size.width / 8) + 1;
    fc.assert(
      fc.property(outline, fc.constantFrom(1, 2, 3.5), fc.boolean(), (path, scale, ink) => {
        const raw = new Uint8Array(stride * size.height).fill(ink ? 0 : 255);
        fillBits(path, scale, { ...size, stride, raw }, ink);
        const item = { kind: 'path' as const, path, x: 0, y: 0, unitMm: 1, fill: '#000000' };
        const crop = { x: 0, y: 0, width: size.width / scale, height: size.height / scale };
        const grey = rasterise([item], crop, scale * mmPerInch);
        expect([grey.width, grey.height]).toEqual([size.width, size.height]);
        for (let y = 0; y < size.height; y++) {
          for (let x = 0; x < size.width; x++) {
            const bit = (raw[y * stride + 1 + (x >> 3)]! >> (7 - (x & 7))) & 1;
            expect(bit === (ink ? 1 : 0)).toBe(grey.pixels[y * size.width + x]! < 128);
          }
          // the byte before the row and what lies beyond its end are left as they were
          expect(raw[y * stride]).toBe(ink ? 0 : 255);
          expect(raw[y * stride + stride - 1]! & 7).toBe(ink ? 0 : 7);
        }
      }),
    );
  });
});
