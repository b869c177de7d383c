import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { encode, explainFit } from '../../../src/core';
import { placementMap } from '../../../src/core/symbology/data-matrix/placement';
import { rectangleSizes, squareSizes } from '../../../src/core/symbology/data-matrix/sizes';
import { differences, readAll, symbolPgm, witness } from '../../helpers/barcode';

const sizes = [...squareSizes, ...rectangleSizes];

/** Codewords of a 144 × 144 symbol, taken out of its modules. */
function largestWords(modules: ArrayLike<number>): number[] {
  const { map, height, width } = placementMap(squareSizes[23]!);
  const words = new Array<number>(1558 + 620).fill(0);
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      const from = map[r * width + c]!;
      if (
        from >= 0 &&
        modules[(r + 1 + 2 * Math.floor(r / 22)) * 144 + c + 1 + 2 * Math.floor(c / 22)]
      )
        words[from >> 3]! |= 128 >> (from & 7);
    }
  return words;
}

describe('Data Matrix, module by module against an independent writer', () => {
  test('all sizes but the largest with a short number', async () => {
    for (const [i, size] of sizes.entries()) {
      if (size.rows === 144) continue;
      const ours = encode('data-matrix', '2004', { size: [size.rows, size.columns] });
      const theirs = await witness('2004', 'DataMatrix', `version=${i + 1}`);
      expect([size.rows, size.columns, differences(ours, theirs)]).toEqual([
        size.rows,
        size.columns,
        0,
      ]);
    }
  });

  test('144 × 144: data alike, and the same check words, begun with the ninth block', async () => {
    // this writer begins the check words with the first block; codeword i belongs to block i mod
    // 10, and 1558 mod 10 is 8
    const text = Array.from({ length: 3116 }, (_, k) => String((k * 7) % 10)).join('');
    const ours = largestWords(encode('data-matrix', text).modules);
    const theirs = largestWords((await witness(text, 'DataMatrix', 'version=24')).modules);
    expect(ours.slice(0, 1558)).toEqual(theirs.slice(0, 1558));
    const block = (words: number[], column: number) =>
      Array.from({ length: 62 }, (_, i) => words[1558 + i * 10 + column]);
    for (let b = 0; b < 10; b++) expect(block(ours, (b + 2) % 10)).toEqual(block(theirs, b));
  });

  test('all sizes but the largest, filled to the last codeword with digits', async () => {
    for (const [i, size] of sizes.entries()) {
      if (size.rows === 144) continue;
      const text = Array.from({ length: size.dataWords * 2 }, (_, k) =>
        String((k * 7 + i) % 10),
      ).join('');
      const ours = encode('data-matrix', text, { size: [size.rows, size.columns] });
      const theirs = await witness(text, 'DataMatrix', `version=${i + 1}`);
      expect([size.rows, size.columns, differences(ours, theirs)]).toEqual([
        size.rows,
        size.columns,
        0,
      ]);
    }
  });
});

describe('Data Matrix, read back', () => {
  const parts = fc
    .array(
      fc.constantFrom(
        'DH-0142',
        'sea kale',
        '20004110',
        'A>B*C\r',
        '!"#$%&',
        'é',
        '桂子',
        'Zz9',
        ' ',
        '\x01',
        'QWERTY',
        'abcdefgh',
      ),
      {
        minLength: 1,
        maxLength: 9,
      },
    )
    .map((a) => a.join(''));

  test('any text comes back unchanged, with all its error correction unused', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.oneof(parts, fc.string({ unit: 'grapheme', minLength: 1, maxLength: 50 })),
        fc.constantFrom('square' as const, 'rectangle' as const),
        async (text, shape) => {
          if (shape === 'rectangle' && !explainFit('data-matrix', text, { shape }).fits) return;
          const [read] = await readAll(symbolPgm(encode('data-matrix', text, { shape })), {
            formats: ['DataMatrix'],
          });
          expect([text, read?.text, read?.extra.UEC]).toEqual([text, text, 1]);
        },
      ),
      { numRuns: 400 },
    );
  });

  test('any bytes come back unchanged', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ minLength: 1, maxLength: 320 }), async (bytes) => {
        const [read] = await readAll(symbolPgm(encode('data-matrix', bytes)), {
          formats: ['DataMatrix'],
        });
        expect(Array.from(read!.bytes)).toEqual(Array.from(bytes));
      }),
      { numRuns: 60 },
    );
  });

  test('GS1 data is announced by FNC1 and its separators come back', async () => {
    const [read] = await readAll(
      symbolPgm(encode('data-matrix', '010200041100001710AB1\x1d21xy', { gs1: true })),
      {
        formats: ['DataMatrix'],
      },
    );
    expect(read!.identifier).toBe(']d2');
    expect(new TextDecoder().decode(read!.bytes)).toBe('010200041100001710AB1\x1d21xy');
  });

  test('ends in EDIFACT with two pairs of digits behind it, which need no unlatch in the last two codewords', async () => {
    const symbol = encode('data-matrix', 'DH->*>*DH->*2000');
    expect(symbol.columns).toBe(16);
    expect((await readAll(symbolPgm(symbol)))[0]?.text).toBe('DH->*>*DH->*2000');
  });

  test('is never larger than what the independent writer makes', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc
          .array(fc.constantFrom('DH-', 'sea', '2000', '>*', 'Kale!', 'ab1', 'XY Z'), {
            minLength: 1,
            maxLength: 12,
          })
          .map((a) => a.join('')),
        async (text) => {
          const ours = encode('data-matrix', text);
          const theirs = await witness(text, 'DataMatrix', 'forceSquare');
          expect(ours.columns).toBeLessThanOrEqual(theirs.columns);
        },
      ),
      { numRuns: 150 },
    );
  });

  test('the largest size holds 3,116 digits and no more', () => {
    expect(explainFit('data-matrix', '7'.repeat(3116)).fits).toBe(true);
    expect(explainFit('data-matrix', '7'.repeat(3117))).toMatchObject({
      fits: false,
      mend: 'Shorten it.',
    });
    expect(explainFit('data-matrix', 'é'.repeat(900))).toMatchObject({ fits: false });
  });
});
