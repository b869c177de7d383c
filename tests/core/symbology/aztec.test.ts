import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { encode, explainFit } from '../../../src/core';
import { planAztec } from '../../../src/core/symbology/aztec/encode';
import { differences, readAll, symbolPgm, witness } from '../../helpers/barcode';

/**
 * Capital letters only, for which there is one shortest way, so that writers cannot differ in the
 * data.
 */
const capitals = (count: number): string =>
  Array.from({ length: count }, (_, i) => 'MARBYGDENSLTHOUWFI'[(i * 7) % 18]).join('');

/** The most capitals that a forced size holds: five bits each, less what stuffing takes. */
function fill(layers: number, compact: boolean): string {
  const wordSize = layers <= 2 ? 6 : layers <= 8 ? 8 : layers <= 22 ? 10 : 12;
  const words = Math.floor((((compact ? 88 : 112) + 16 * layers) * layers) / wordSize);
  let count = Math.floor(((words - Math.ceil(words * 0.23) - 3) * wordSize) / 5);
  while (!explainFit('aztec', capitals(count), { layers, compact, correction: 23 }).fits) count--;
  return capitals(count);
}

const sizes: [layers: number, compact: boolean][] = [
  ...[1, 2, 3, 4].map((l): [number, boolean] => [l, true]),
  ...Array.from({ length: 32 }, (_, i): [number, boolean] => [i + 1, false]),
];

/** Modules along one side: 11 or 14 and four a layer, and in full symbols the reference grid. */
function sideOf(layers: number, compact: boolean): number {
  const base = (compact ? 11 : 14) + 4 * layers;
  return compact ? base : base + 1 + 2 * Math.floor((base / 2 - 1) / 15);
}

describe('Aztec code', () => {
  test('all 36 sizes, compact and full, equal an independent writer module by module', async () => {
    for (const [layers, compact] of sizes) {
      const text = fill(layers, compact);
      const ours = encode('aztec', text, { layers, compact });
      // the writer counts compact sizes first: 1 to 4, then full ones
      const version = compact ? layers : layers + 4;
      const theirs = await witness(text, 'Aztec', `version=${version}`);
      expect([layers, compact, differences(ours, theirs)]).toEqual([layers, compact, 0]);
    }
  });

  test('all 36 sizes read back', async () => {
    for (const [layers, compact] of sizes) {
      const text = fill(layers, compact);
      const [read] = await readAll(symbolPgm(encode('aztec', text, { layers, compact })), {
        formats: ['Aztec'],
      });
      expect([layers, compact, read?.text === text, read?.extra.UEC]).toEqual([
        layers,
        compact,
        true,
        1,
      ]);
    }
  });

  test('any text comes back unchanged, with all its error correction unused', async () => {
    const parts = fc
      .array(
        fc.constantFrom(
          'DH-0142',
          'sea kale',
          '20004110',
          '. , : ',
          '\r\n',
          '!"#$%&',
          'é',
          '桂子',
          'Zz9',
          '\x01\x1b',
          '@\\^|~',
          'A1b2',
        ),
        { minLength: 1, maxLength: 9 },
      )
      .map((a) => a.join(''));
    await fc.assert(
      fc.asyncProperty(
        fc.oneof(parts, fc.string({ unit: 'grapheme', minLength: 1, maxLength: 60 })),
        async (text) => {
          const [read] = await readAll(symbolPgm(encode('aztec', text)), { formats: ['Aztec'] });
          expect([text, read?.text, read?.extra.UEC]).toEqual([text, text, 1]);
        },
      ),
      { numRuns: 300 },
    );
  });

  test('any bytes come back unchanged', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ minLength: 1, maxLength: 200 }), async (bytes) => {
        const [read] = await readAll(symbolPgm(encode('aztec', bytes)), { formats: ['Aztec'] });
        expect(Array.from(read!.bytes)).toEqual(Array.from(bytes));
      }),
      { numRuns: 60 },
    );
  });

  test('keeps the share asked for, and never takes more bits than the independent writer', async () => {
    for (const correction of [10, 23, 50, 90]) {
      const { facts } = encode('aztec', 'https://marrambay.example/v/DH-0142', { correction });
      const share =
        (Number(facts.corrections) / (Number(facts.corrections) + Number(facts.codewords))) * 100;
      expect(share).toBeGreaterThanOrEqual(correction);
    }
    await fc.assert(
      fc.asyncProperty(
        fc
          .array(fc.constantFrom('DH-', 'sea', '2000', '. ', 'Kale!', 'ab1', 'XY Z', '@'), {
            minLength: 1,
            maxLength: 12,
          })
          .map((a) => a.join('')),
        async (text) => {
          const theirs = await witness(text, 'Aztec', 'ecLevel=23%');
          // the writer keeps fewer words than the standard recommends, so what fits its symbol must
          // fit ours of that size
          const found = sizes.find(
            ([layers, compact]) => sideOf(layers, compact) === theirs.columns,
          )!;
          expect([
            text,
            explainFit('aztec', text, { layers: found[0], compact: found[1], correction: 5 }).fits,
          ]).toEqual([text, true]);
        },
      ),
      { numRuns: 100 },
    );
  });

  test('what is too long says so', () => {
    expect(explainFit('aztec', 'x'.repeat(4000))).toMatchObject({
      fits: false,
      mend: 'Shorten it.',
    });
    expect(() => planAztec('')).toThrow(/nothing to encode/);
  });
});
