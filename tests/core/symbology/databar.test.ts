import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { encode, expectedRead, explainFit, type EncodeOptions } from '../../../src/core';
import { heldBy } from '../../../src/core/symbology';
import type { DatabarForm } from '../../../src/core/symbology/databar/encode';
import { readAll, symbolPgm, witness } from '../../helpers/barcode';

/** Rows that differ from the one above, as strings; the writer draws each as high as it is. */
const distinct = (rows: string[]): string[] => rows.filter((row, i) => row !== rows[i - 1]);

async function sameAsWitness(
  form: DatabarForm,
  format: string,
  text: string,
  options: EncodeOptions = {},
  more = '',
): Promise<void> {
  const symbol = encode('gs1-databar', text, { databar: form, ...options });
  const ours = Array.from({ length: symbol.rows }, (_, r) =>
    Array.from(symbol.modules.slice(r * symbol.columns, (r + 1) * symbol.columns)).join(''),
  );
  const drawn = await witness(text, format, more);
  const theirs = Array.from({ length: drawn.rows }, (_, r) =>
    drawn.modules.slice(r * drawn.columns, (r + 1) * drawn.columns).join(''),
  );
  expect([form, text, distinct(ours)]).toEqual([form, text, distinct(theirs)]);
}

const digits = (length: number) =>
  fc.string({ unit: fc.constantFrom(...'0123456789'), minLength: length, maxLength: length });
/** Thirteen digits without the check digit, which the writer adds by itself. */
const lacking: EncodeOptions = { addCheckDigit: true };

describe('GS1 DataBar, module by module against an independent writer', () => {
  test.each([
    ['omnidirectional', 'DataBarOmni'],
    ['stacked', 'DataBarStk'],
    ['stacked-omnidirectional', 'DataBarStkOmni'],
  ] as const)('%s', (form, format) =>
    fc.assert(
      fc.asyncProperty(digits(13), (text) => sameAsWitness(form, format, text, lacking)),
      {
        numRuns: 250,
        seed: 20261123,
        examples: [['0000000000000'], ['9999999999999'], ['0200041100001']],
      },
    ),
  );

  test('limited, all 89 check characters', async () => {
    const seen = new Set<string>();
    for (let i = 0; seen.size < 89 && i < 3000; i++) {
      const text = String((i * 37777777771) % 2000000000000).padStart(13, '0');
      await sameAsWitness('limited', 'DataBarLtd', text, lacking);
      // modules 28 to 45 hold the check character
      seen.add(
        Array.from(
          encode('gs1-databar', text, { ...lacking, databar: 'limited' }).modules.slice(28, 46),
        ).join(''),
      );
    }
    expect(seen.size).toBe(89);
  });

  const texts = [
    '(01)02000411000017',
    '(01)02000411000017(10)AB',
    '(10)abc',
    '(01)90012345678908(3103)001750',
    '(01)90012345678908(3202)000156',
    '(01)90012345678908(3203)012345',
    ...['11', '13', '15', '17'].flatMap((date) => [
      `(01)90012345678908(3101)012233(${date})991231`,
      `(01)90012345678908(3201)012233(${date})010100`,
    ]),
    '(01)90012345678908(3922)795',
    '(01)90012345678908(3932)0401234',
    '(21)a1B2c3(10)12345(8200)http://x.example/1',
    '(10)ABCDEFGHIJKLMNOPQRST',
    '(91)' + '0123456789'.repeat(6),
  ];
  test('expanded, every encodation method and number of finders', async () => {
    for (const text of texts) await sameAsWitness('expanded', 'DataBarExp', text);
    for (let n = 1; n <= 66; n++)
      await sameAsWitness('expanded', 'DataBarExp', `(91)${'1234567'.repeat(10).slice(0, n)}`);
  });
  test('expanded stacked, two to ten segments a row', async () => {
    for (const text of texts)
      for (let c = 1; c <= 5; c++)
        await sameAsWitness(
          'expanded-stacked',
          'DataBarExpStk',
          text,
          { segmentsPerRow: 2 * c },
          `columns=${c}`,
        );
  });
});

describe('GS1 DataBar, read back', () => {
  test.each([
    'omnidirectional',
    'stacked',
    'stacked-omnidirectional',
    'limited',
    'expanded',
    'expanded-stacked',
  ] as const)('%s', async (databar) => {
    const text = databar.startsWith('expanded')
      ? '(01)02000411000017(10)AB-7/x(21)Zoe'
      : '(01)02000411000017';
    const symbol = encode('gs1-databar', text, { databar });
    const expected = expectedRead(symbol);
    const [read] = await readAll(symbolPgm(symbol, 4), { formats: [expected.format as 'DataBar'] });
    expect([read?.text, read?.identifier]).toEqual([expected.text, ']e0']);
  });

  test('any general data comes back from the expanded form', async () => {
    const set82 = fc.string({
      unit: fc.constantFrom(...'!"%&\'()*+,-./0123456789:;<=>?ABCXYZ_abcxyz'),
      minLength: 1,
      maxLength: 18,
    });
    await fc.assert(
      fc.asyncProperty(set82, digits(5), async (lot, count) => {
        if (/\(\d{2,4}\)/.test(lot)) return;
        const symbol = encode('gs1-databar', `(10)${lot}(30)${count}`, { databar: 'expanded' });
        const [read] = await readAll(symbolPgm(symbol, 4), { formats: ['DataBarExp'] });
        expect(read?.text).toBe(`10${lot}\x1d30${count}`);
      }),
      { numRuns: 80 },
    );
  });

  test('what is read is the product number that was given, and nothing that was added', async () => {
    for (const [text, held] of [
      ['4006381333931', '(01)04006381333931'],
      ['20000004', '(01)00000020000004'],
      ['(01)02000411000017', '(01)02000411000017'],
    ] as const) {
      const symbol = encode('gs1-databar', text);
      expect([symbol.payload, heldBy('gs1-databar', text)]).toEqual([held, held]);
      const [read] = await readAll(symbolPgm(symbol, 4), { formats: ['DataBar'] });
      expect(`(${read!.text.slice(0, 2)})${read!.text.slice(2)}`).toBe(held);
    }
  });

  test('letters that only look as if they began with an identifier are no GS1 data', () => {
    for (const text of ['10AB', '21ABC', '17x', 'ABC'])
      expect(explainFit('gs1-databar', text)).toMatchObject({
        fits: false,
        mend: expect.stringContaining('(01)'),
      });
    expect(explainFit('gs1-databar', '(10)AB').fits).toBe(true);
  });

  test('refusals name what is wrong', () => {
    expect(explainFit('gs1-databar', '(01)92000411000017', { databar: 'limited' })).toMatchObject({
      fits: false,
    });
    expect(explainFit('gs1-databar', '(01)02000411000010')).toMatchObject({
      fits: false,
      position: 17,
      mend: 'Correct the last digit to 7.',
    });
    expect(explainFit('gs1-databar', '(10)A{B', {})).toMatchObject({ fits: false, position: 5 });
    expect(explainFit('gs1-databar', `(91)${'x'.repeat(60)}`)).toMatchObject({
      fits: false,
      mend: 'Shorten it, or use GS1 Data Matrix.',
    });
    expect(
      explainFit('gs1-databar', '(10)A', { databar: 'expanded-stacked', segmentsPerRow: 3 }),
    ).toMatchObject({ fits: false });
  });
});
