import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { encode, explainFit } from '../../../src/core';
import { compactBytes } from '../../../src/core/symbology/pdf417/compaction';
import { patternBits } from '../../../src/core/symbology/pdf417/patterns';
import { readAll, symbolPgm, witness } from '../../helpers/barcode';

/** Digits that look random and are the same every time. */
function digits(count: number, seed: number): string {
  let state = seed;
  return Array.from({ length: count }, () => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return String((state >>> 12) % 10);
  }).join('');
}

describe('PDF417, module by module against an independent writer', () => {
  test('every codeword in every cluster', async () => {
    const seen = new Set<string>();
    for (let n = 1; n <= 60; n++) {
      // codewords from 900 on come about as check words, of which level 8 has most
      const level = n % 2 === 0 ? 8 : 5;
      const text = digits(level === 8 ? 60 : 1500, n);
      const columns = 8 + (n % 17);
      const symbol = encode('pdf417', text, { pdf417Columns: columns, pdf417Level: level });
      const drawn = await witness(text, 'PDF417', `columns=${columns},ecLevel=${level}`);
      const high = drawn.rows / symbol.rows;
      expect([n, drawn.columns, high]).toEqual([n, symbol.columns, 3]);
      for (let r = 0; r < symbol.rows; r++) {
        const row = Array.from(
          symbol.modules.slice(r * symbol.columns, (r + 1) * symbol.columns),
        ).join('');
        expect([n, r, row]).toEqual([
          n,
          r,
          drawn.modules
            .slice(r * high * drawn.columns, r * high * drawn.columns + drawn.columns)
            .join(''),
        ]);
        for (let c = 0; c < columns; c++)
          seen.add(`${r % 3} ${row.slice(34 + 17 * c, 51 + 17 * c)}`);
      }
    }
    const missing = [0, 1, 2].flatMap((k) =>
      Array.from({ length: 929 }, (_, v) => v).filter(
        (v) => !seen.has(`${k} ${patternBits(k, v).toString(2)}`),
      ),
    );
    expect(missing).toEqual([]);
  });

  test('every correction level, and the compact form', async () => {
    for (let level = 0; level <= 8; level++)
      for (const [format, pdf417Compact] of [
        ['PDF417', false],
        ['CompactPDF417', true],
      ] as const) {
        const symbol = encode('pdf417', 'MARRAM BAY', {
          pdf417Columns: 7,
          pdf417Level: level,
          pdf417Compact,
        });
        const drawn = await witness('MARRAM BAY', format, `columns=7,ecLevel=${level}`);
        const ours = Array.from({ length: drawn.rows }, (_, y) =>
          Array.from(
            symbol.modules.slice(
              Math.floor(y / 3) * symbol.columns,
              (Math.floor(y / 3) + 1) * symbol.columns,
            ),
          ),
        ).flat();
        expect([level, format, drawn.columns, ours.join('') === drawn.modules.join('')]).toEqual([
          level,
          format,
          symbol.columns,
          true,
        ]);
      }
  });

  test('all patterns are distinct, 17 modules, of their cluster', () => {
    const all = [0, 1, 2].flatMap((k) =>
      Array.from({ length: 929 }, (_, v) => {
        const widths = patternBits(k, v)
          .toString(2)
          .match(/1+|0+/g)!
          .map((run) => run.length);
        expect([
          k,
          v,
          widths.length,
          widths.reduce((a, b) => a + b),
          (widths[0]! - widths[2]! + widths[4]! - widths[6]! + 18) % 9,
        ]).toEqual([k, v, 8, 17, 3 * k]);
        return patternBits(k, v);
      }),
    );
    expect(new Set(all).size).toBe(3 * 929);
  });
});

describe('PDF417, read back', () => {
  const read = async (payload: string | Uint8Array) =>
    (await readAll(symbolPgm(encode('pdf417', payload), 3), { formats: ['PDF417'] }))[0];

  test('any text comes back unchanged, with all its error correction unused', async () => {
    const alphabet = fc.oneof(
      fc.constantFrom('a', 'B', '7', '007', ';', ',', ' ', '\n', '1234567890123', 'é', '\x01'),
      fc.string({ unit: 'grapheme', minLength: 1, maxLength: 4 }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(alphabet, { minLength: 1, maxLength: 25 }), async (parts) => {
        const got = await read(parts.join(''));
        expect([got?.text, got?.extra.UEC]).toEqual([parts.join(''), 1]);
      }),
      { numRuns: 150 },
    );
  });

  test('any bytes come back unchanged', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ minLength: 1, maxLength: 80 }), async (bytes) => {
        expect(Array.from((await read(bytes))!.bytes)).toEqual(Array.from(bytes));
      }),
      { numRuns: 60 },
    );
  });
});

describe('PDF417, choices', () => {
  test('compaction takes the fewest codewords', () => {
    const words = (text: string) => compactBytes(new TextEncoder().encode(text)).length;
    expect(words('ABCDEF')).toBe(3);
    expect(words('0'.repeat(44))).toBe(16);
    expect(words('\x80\x81\x82\x83\x84\x85')).toBeLessThanOrEqual(13);
    // half a codeword that is left open before a single byte costs nothing more than its filler
    expect(words('AB\x01CD')).toBe(4);
  });

  test('columns, aspect and level are as asked for', () => {
    expect(encode('pdf417', 'x'.repeat(200), { pdf417Columns: 3 }).facts.columns).toBe(3);
    const wide = encode('pdf417', 'x'.repeat(200), { pdf417Aspect: 6 });
    const square = encode('pdf417', 'x'.repeat(200), { pdf417Aspect: 1 });
    expect(Number(wide.facts.columns)).toBeGreaterThan(Number(square.facts.columns));
    expect(encode('pdf417', 'abc').facts.level).toBe(2);
  });

  test('what does not fit says why', () => {
    expect(explainFit('pdf417', 'x'.repeat(3000))).toMatchObject({
      fits: false,
      mend: 'Shorten it, or use a QR code.',
    });
    expect(explainFit('pdf417', 'x'.repeat(500), { pdf417Columns: 1 })).toMatchObject({
      fits: false,
      mend: 'Use more columns, or shorten it.',
    });
    expect(explainFit('pdf417', 'x', { pdf417Level: 9 })).toMatchObject({ fits: false });
    expect(explainFit('pdf417', '7'.repeat(2710), { pdf417Level: 0 }).fits).toBe(true);
    expect(explainFit('pdf417', 'X'.repeat(1850), { pdf417Level: 0 }).fits).toBe(true);
    expect(explainFit('pdf417', 'X'.repeat(1851), { pdf417Level: 0 }).fits).toBe(false);
  });
});
