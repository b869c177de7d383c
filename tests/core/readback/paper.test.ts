import fc from 'fast-check';
import { expect, test } from 'vitest';
import { placeOnStock, stockById } from '../../../src/core/piece/stock';
import { lies, shiftInWords, shiftOf } from '../../../src/core/run/paper';

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
        const lying = lies(
          some.map((place) => ({ ...at(place), place })),
          stock,
          'across',
        );
        // places in one line say nothing of how it lies
        const spread = some.map((place) => placeOnStock(stock, place - 1, 1, 'across'));
        if (new Set(spread.map((s) => s.x)).size > 1 && new Set(spread.map((s) => s.y)).size > 1)
          expect(lying?.misplaced).toEqual([]);
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
  const lying = lies(swapped, stock, 'across')!;
  expect(lying.misplaced).toEqual([4, 17]);
  // and what stands in the picture beside the run's own codes is found on the sheet
  const { x, y } = placeOnStock(stock, 11, 1, 'across');
  const found = lying.onSheet(at(12));
  expect(Math.hypot(found.x - x, found.y - y)).toBeLessThan(6);
  expect(lies(swapped.slice(3, 6), stock, 'across')).toBeUndefined();
  // codes that lie anyhow say nothing of places
  const heap = places.map((place) => ({
    x: (place * 7919) % 800,
    y: (place * 104729) % 900,
    place,
  }));
  expect(lies(heap, stock, 'across')).toBeUndefined();
});

test('a scan tells by how much the feed drew the sheet in beside, a photograph does not', () => {
  const picture = { width: 2100, height: 2970 };
  const centre = { x: 48, y: 19 };
  fc.assert(
    fc.property(
      fc.double({ min: -6, max: 6, noNaN: true }),
      fc.double({ min: -6, max: 6, noNaN: true }),
      fc.double({ min: -0.04, max: 0.04, noNaN: true }),
      fc.subarray(places, { minLength: 6 }),
      (dx, dy, turn, some) => {
        const seen = some.map((place) => {
          const seat = placeOnStock(stock, place - 1, 1, 'across');
          const [x, y] = [seat.x + centre.x - 105, seat.y + centre.y - 148.5];
          return {
            place,
            x: 10 * (105 + dx + x * Math.cos(turn) - y * Math.sin(turn)),
            y: 10 * (148.5 + dy + x * Math.sin(turn) + y * Math.cos(turn)),
          };
        });
        const shift = shiftOf(seen, stock, 'across', centre, picture)!;
        expect(Math.hypot(shift.x - dx, shift.y - dy)).toBeLessThan(0.05);
        // as large as no sheet, or seen from nearer
        expect(
          shiftOf(seen, stock, 'across', centre, { width: 2100, height: 2100 }),
        ).toBeUndefined();
        const near = seen.map((one) => ({ ...one, x: one.x * 1.2, y: one.y * 1.2 }));
        expect(shiftOf(near, stock, 'across', centre, picture)).toBeUndefined();
      },
    ),
  );
  expect(shiftInWords({ x: 2.14, y: -3 })).toBe('2.1 mm too far right and 3.0 mm too high');
  expect(shiftInWords({ x: -1, y: 0.2 })).toBe('1.0 mm too far left');
  expect(shiftInWords({ x: 0.3, y: 0.2 })).toBe('');
});
