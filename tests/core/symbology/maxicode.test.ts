import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { encode, expectedRead, explainFit, renderPng, type EncodeOptions } from '../../../src/core';
import { grid, gridColumns, gridRows, nothing } from '../../../src/core/symbology/maxicode/grid';
import { messageCharacters } from '../../../src/core/symbology/maxicode/characters';
import { readAll, witness } from '../../helpers/barcode';

const read = async (payload: string, options: EncodeOptions = {}) =>
  (
    await readAll(renderPng(encode('maxicode', payload, options), { dotsPerModule: 8 }), {
      formats: ['MaxiCode'],
    })
  )[0]?.text;

describe('MaxiCode, module by module against an independent writer', () => {
  test('the grid holds every bit once', () => {
    expect(
      Array.from(grid)
        .filter((bit) => bit >= 0)
        .sort((a, b) => a - b),
    ).toEqual(Array.from({ length: 864 }, (_, i) => i));
  });

  test('messages for which both choose the same characters', async () => {
    const texts = [
      'A',
      'HELLO WORLD 123456789',
      'THE QUICK BROWN FOX JUMPS OVER THE LAZY DOG, AGAIN AND AGAIN AND AGAIN UNTIL THE NIGHT IS OV',
    ];
    for (let n = 0; n < 30; n++)
      texts.push(
        Array.from(
          { length: 93 },
          (_, i) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ '[(i * (n + 3) + i * i * 7 + n) % 27],
        ).join(''),
      );
    for (const text of texts) {
      const ours = encode('maxicode', text);
      const drawn = await witness(text, 'MaxiCode', '');
      const wrong: string[] = [];
      // the writer draws hexagons five pixels apart, rows four, odd rows half a hexagon further
      // right
      for (let r = 0; r < gridRows; r++)
        for (let c = 0; c < gridColumns - (r % 2); c++) {
          if (grid[r * gridColumns + c] === nothing) continue;
          const pixel = drawn.modules[(2 + 4 * r) * drawn.columns + 5 * c + (r % 2 ? 4 : 2)];
          if (pixel !== ours.modules[r * gridColumns + c]) wrong.push(`${r}, ${c}`);
        }
      expect([text, wrong]).toEqual([text, []]);
    }
  });
});

describe('MaxiCode, read back from hexagons', () => {
  test('any Latin-1 text, in every mode that carries one', async () => {
    const latin = fc.string({
      unit: fc
        .integer({ min: 32, max: 255 })
        .filter((c) => c < 127 || c > 160)
        .map((c) => String.fromCharCode(c)),
      minLength: 1,
      maxLength: 30,
    });
    await fc.assert(
      fc.asyncProperty(latin, fc.constantFrom(4, 5), async (text, maxicodeMode) => {
        expect(await read(text, { maxicodeMode: maxicodeMode as 4 })).toBe(text);
      }),
      { numRuns: 40 },
    );
    expect(await read('桂子 Σοφία')).toBe('桂子 Σοφία');
  });

  test('a structured carrier message, with digits or letters in its postal code', async () => {
    for (const postcode of ['123456789', '70', 'TR19 6', 'A']) {
      const options = { carrier: { postcode, country: 826, service: 1 } };
      const symbol = encode('maxicode', 'SEEDS', options);
      expect(symbol.facts.mode).toBe(/^\d+$/.test(postcode) ? 2 : 3);
      expect(await read('SEEDS', options)).toBe(expectedRead(symbol, options).text);
    }
  });

  test('the fewest characters: nine digits in six, two or three capitals out of small letters', () => {
    const length = (text: string) =>
      messageCharacters(Array.from(text, (c) => c.charCodeAt(0))).said.length;
    expect([length('123456789'), length('ABC'), length('abc')]).toEqual([6, 3, 4]);
    expect(length('abcdABefgh')).toBe(12);
  });

  test('what does not fit says why', () => {
    expect(explainFit('maxicode', 'X'.repeat(94))).toMatchObject({
      fits: false,
      mend: 'Shorten it, or use a QR code.',
    });
    expect(explainFit('maxicode', 'X'.repeat(80), { maxicodeMode: 5 })).toMatchObject({
      fits: false,
      mend: expect.stringContaining('mode 4'),
    });
    expect(
      explainFit('maxicode', 'X', { carrier: { postcode: 'TOO LONG', country: 826, service: 1 } }),
    ).toMatchObject({ fits: false });
    expect(
      explainFit('maxicode', 'X', { carrier: { postcode: '1', country: 1000, service: 1 } }),
    ).toMatchObject({ fits: false });
    expect(explainFit('maxicode', '1'.repeat(138)).fits).toBe(true);
  });
});
