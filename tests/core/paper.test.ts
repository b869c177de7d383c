import fc from 'fast-check';
import { expect, test } from 'vitest';
import { placeOnStock, stockById } from '../../src/core/piece/stock';
import { misplaced } from '../../src/core/run/paper';

const stock = stockById('a4-21');
/** A sheet as a camera sees it: turned, near or far, aslant. */
const view = (turn: number, scale: number, slant: number) => (place: number) => {
  const { x, y } = placeOnStock(stock, place - 1, 1, 'across');
  const [u, v] = [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)];
  const far = 1 + slant * (v / 1000);
  return { x: (u * scale) / far + 800, y: (v * scale) / far + 900 };
};
const places = Array.from({ length: 21 }, (_, i) => i + 1);

test('however a sheet lies in the picture, its codes are on their places', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -3.1, max: 3.1, noNaN: true }),
      fc.double({ min: 2, max: 12, noNaN: true }),
      fc.double({ min: -0.4, max: 0.4, noNaN: true }),
      fc.subarray(places, { minLength: 5 }),
      (turn, scale, slant, some) => {
        const at = view(turn, scale, slant);
        expect(
          misplaced(
            some.map((place) => ({ ...at(place), place })),
            stock,
            'across',
          ),
        ).toEqual([]);
      },
    ),
  );
});

test('two that were swapped are told, and nothing where too few are seen', () => {
  const at = view(0.3, 6, 0.2);
  const seen = places.map((place) => ({ ...at(place), place }));
  const swapped = seen.map((one, i) =>
    i === 4
      ? { ...seen[17]!, place: one.place }
      : i === 17
        ? { ...seen[4]!, place: one.place }
        : one,
  );
  expect(misplaced(swapped, stock, 'across')).toEqual([4, 17]);
  expect(misplaced(swapped.slice(3, 6), stock, 'across')).toEqual([]);
  // codes that lie anyhow say nothing of places
  const heap = places.map((place) => ({
    x: (place * 7919) % 800,
    y: (place * 104729) % 900,
    place,
  }));
  expect(misplaced(heap, stock, 'across')).toEqual([]);
});
