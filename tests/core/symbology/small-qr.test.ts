import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { encode, explainFit, type EncodeOptions } from '../../../src/core';
import { differences, readAll, symbolPgm, witness } from '../../helpers/barcode';

const sizes = [7, 9, 11, 13, 15, 17].flatMap((rows) =>
  (rows === 11 || rows === 13 ? [27, 43, 59, 77, 99, 139] : [43, 59, 77, 99, 139]).map(
    (columns) => [rows, columns] as const,
  ),
);

describe('Micro QR code', () => {
  // each version and level with a short text, and with one that fills it
  const cases: [version: 1 | 2 | 3 | 4, level: 'L' | 'M' | 'Q' | undefined, texts: string[]][] = [
    [1, undefined, ['123', '98765']],
    [2, 'L', ['A1', '0123456789', 'MARRAM']],
    [2, 'M', ['AB', '01234567']],
    [3, 'L', ['abc1', 'abcdefghi', '98765432109876543210987']],
    [3, 'M', ['ab12', 'abcdefg']],
    [4, 'L', ['abc', 'abcdefghijklmno', '01234567890123456789012345678901234']],
    [4, 'M', ['abcd', 'abcdefghijklm']],
    [4, 'Q', ['Abc', 'abcdefghi']],
  ];
  test.each(cases)(
    'M%s level %s, all four masks, module by module',
    async (version, level, texts) => {
      for (const text of texts)
        for (let mask = 0; mask < 4; mask++) {
          const ours = encode('micro-qr', text, { version, level, mask, raiseLevel: false });
          const theirs = await witness(
            text,
            'MicroQRCode',
            `version=${version}${level ? `,ecLevel=${level}` : ''},dataMask=${mask}`,
          );
          expect([text, mask, differences(ours, theirs)]).toEqual([text, mask, 0]);
        }
    },
  );

  test('any text it holds is read back, with the mask it chose', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.string({
          unit: fc.integer({ min: 32, max: 126 }).map((c) => String.fromCharCode(c)),
          minLength: 1,
          maxLength: 15,
        }),
        async (text) => {
          const symbol = encode('micro-qr', text, { level: 'L' });
          const [read] = await readAll(symbolPgm(symbol, 5), { formats: ['MicroQRCode'] });
          expect(read?.text).toBe(text);
          if (symbol.facts.version === 'M1' || read!.extra.UEC === 1) return;
          // this reader counts a fault in a few M3 symbols that the writer draws module by module
          // the same
          const theirs = await witness(
            text,
            'MicroQRCode',
            `version=${String(symbol.facts.version)[1]},ecLevel=${symbol.facts.level},dataMask=${symbol.facts.mask}`,
          );
          expect([text, symbol.facts.version, differences(symbol, theirs)]).toEqual([
            text,
            'M3',
            0,
          ]);
        },
      ),
      { numRuns: 120 },
    );
    const [kanji] = await readAll(symbolPgm(encode('micro-qr', '海浜植物'), 5), {
      formats: ['MicroQRCode'],
    });
    expect(kanji!.text).toBe('海浜植物');
  });

  test('the smallest version is taken and the level raised where it costs nothing', () => {
    expect(encode('micro-qr', '123').facts).toMatchObject({ version: 'M1' });
    expect(encode('micro-qr', 'AB').facts).toMatchObject({ version: 'M2', level: 'M' });
    expect(encode('micro-qr', 'AB', { raiseLevel: false }).facts).toMatchObject({ level: 'L' });
    expect(encode('micro-qr', '1', { level: 'M' }).facts).toMatchObject({
      version: 'M2',
      level: 'M',
    });
  });

  test('what does not fit says why', () => {
    expect(explainFit('micro-qr', 'abcdefghijklmnop')).toMatchObject({
      fits: false,
      mend: 'Shorten it, or use a QR code.',
    });
    expect(explainFit('micro-qr', 'Zoë')).toMatchObject({
      fits: false,
      position: 2,
      mend: 'Remove it, or use a QR code.',
    });
    expect(explainFit('micro-qr', '1', { level: 'H' })).toMatchObject({
      fits: false,
      reason: 'Micro QR code has no level H.',
    });
    expect(explainFit('micro-qr', 'abc', { version: 1 })).toMatchObject({ fits: false });
  });
});

describe('rMQR code', () => {
  test.each(sizes)('%s × %s at both levels, module by module', async (rows, columns) => {
    const version = sizes.findIndex(([r, c]) => r === rows && c === columns) + 1;
    for (const level of ['M', 'H'] as const)
      for (const text of ['12', 'A1', 'ab', longest(rows, columns, level)]) {
        const ours = encode('rmqr', text, { size: [rows, columns], level, raiseLevel: false });
        const theirs = await witness(text, 'RMQRCode', `version=${version},ecLevel=${level}`);
        expect([text, level, differences(ours, theirs)]).toEqual([text, level, 0]);
        const [read] = await readAll(symbolPgm(ours, 4), { formats: ['RMQRCode'] });
        expect([read?.text, read?.extra.UEC]).toEqual([text, 1]);
      }
  });

  test('mixed text, other scripts and GS1 data are read back', async () => {
    const check = async (text: string, options: EncodeOptions = {}) => {
      const [read] = await readAll(symbolPgm(encode('rmqr', text, options), 4), {
        formats: ['RMQRCode'],
      });
      expect([read?.text, read?.extra.UEC]).toEqual([text, 1]);
      return read;
    };
    await fc.assert(
      fc.asyncProperty(
        fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 }),
        async (text) => void (await check(text)),
      ),
      { numRuns: 60 },
    );
    await check('海浜植物園');
    expect((await check('0102000411000017', { gs1: true }))!.identifier).toBe(']Q3');
  });

  test('the smallest area is taken, within the height asked for', () => {
    expect(encode('rmqr', '123').facts.size).toBe('11 × 27');
    expect(encode('rmqr', '123', { maxRows: 9 }).facts.size).toBe('7 × 43');
    expect(explainFit('rmqr', 'x'.repeat(200))).toMatchObject({
      fits: false,
      mend: 'Shorten it, or use a QR code.',
    });
    expect(explainFit('rmqr', 'x', { size: [7, 27] })).toMatchObject({
      fits: false,
      reason: 'rMQR code has no size 7 × 27.',
    });
  });
});

/** The longest run of small letters that a size holds, found by trying. */
function longest(rows: number, columns: number, level: 'M' | 'H'): string {
  let text = 'k';
  for (
    let i = 0;
    explainFit('rmqr', text + 'abcdefg'[i % 7], { size: [rows, columns], level }).fits;
    i++
  )
    text += 'abcdefg'[i % 7];
  return text;
}
