import fc from 'fast-check';
import { expect, test } from 'vitest';
import { bands, filters } from '../../../src/contract';
import { problemKinds } from '../../../src/core/records/problems';
import { addressOf, mostTicks, whereaboutsIn } from '../../../src/ui/shell/ledger/address';
import { wholeView } from '../../../src/ui/shell/ledger/view';

const text = fc.string({ unit: 'grapheme', maxLength: 12 });
const column = fc.integer({ min: 1, max: 40 }).map((n) => `c${n}`);
const whereabouts = fc.record({
  band: fc.constantFrom(...bands),
  view: fc.record({
    filter: fc.constantFrom(...filters),
    q: text,
    problem: fc.option(fc.constantFrom(...problemKinds), { nil: undefined }),
    sort: fc.option(
      fc
        .tuple(column, fc.constantFrom('up', 'down'))
        .map(([c, way]) => `${c}:${way}` as `${string}:${'up' | 'down'}`),
      { nil: undefined },
    ),
    where: fc.array(
      fc.record({ column, is: fc.constantFrom('is', 'holds', 'blank', 'filled'), text }),
      { maxLength: 3 },
    ),
  }),
  hand: fc.nat({ max: 200_000 }),
  ticked: fc.uniqueArray(fc.integer({ min: 1, max: 2 ** 40 }), { maxLength: 60 }),
});

test('whatever is shown, in hand and ticked is found again in its address', () => {
  fc.assert(
    fc.property(whereabouts, (now) => {
      const found = whereaboutsIn(new URLSearchParams(addressOf(now)));
      expect(found).toEqual({ ...now, ticked: now.ticked.toSorted((a, b) => a - b) });
    }),
  );
});

test('what is as at first makes no address', () => {
  expect(addressOf({ band: 'stamps', view: wholeView, hand: 0, ticked: [] })).toBe('');
});

test('more ticks than an address can carry are told to be many, and are kept elsewhere', () => {
  const ticked = Array.from({ length: mostTicks + 1 }, (_, i) => i + 1);
  const address = addressOf({ band: 'run', view: wholeView, hand: 0, ticked });
  expect(address).toBe('band=run&ticked=many');
  expect(whereaboutsIn(new URLSearchParams(address)).ticked).toEqual([]);
  const fits = addressOf({ band: 'run', view: wholeView, hand: 0, ticked: ticked.slice(1) });
  expect(whereaboutsIn(new URLSearchParams(fits)).ticked).toHaveLength(mostTicks);
});

test('an address that somebody wrote by hand is read as far as it makes sense', () => {
  fc.assert(
    fc.property(
      fc.dictionary(
        fc.constantFrom('band', 'show', 'q', 'problem', 'sort', 'where', 'row', 'ticked'),
        fc.oneof(
          text,
          fc.json(),
          fc.constantFrom(
            '-1',
            '1e99',
            'NaN',
            '[{"column":1}]',
            '[null]',
            'zz.zz',
            '..',
            'c1:up:up',
          ),
        ),
      ),
      (query) => {
        const { band, view, hand, ticked } = whereaboutsIn(new URLSearchParams(query));
        expect(bands).toContain(band);
        expect(filters).toContain(view.filter);
        expect(Number.isInteger(hand) && hand >= 0).toBe(true);
        expect(ticked.every((one) => Number.isSafeInteger(one) && one > 0)).toBe(true);
        for (const condition of view.where)
          expect(condition).toMatchObject({ column: expect.any(String), text: expect.any(String) });
      },
    ),
  );
});
