import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  EncodeError,
  encode,
  explainFit,
  symbologyIds,
  type EncodeOptions,
  type SymbologyId,
} from '../../../src/core/symbology';

/** Whether a code can really be made. */
function isMade(id: SymbologyId, payload: string, options: EncodeOptions = {}): boolean {
  try {
    encode(id, payload, options);
    return true;
  } catch (error) {
    if (error instanceof EncodeError) return false;
    throw error;
  }
}

const of = (signs: string, length: { minLength?: number; maxLength: number }) =>
  fc.string({ unit: fc.constantFrom(...signs), ...length });
const mixed = 'aZ09 -.:/?=&%@,;~"\u001d\u0007éß€字😀İ';

describe('what is said to fit can be made, and what is not cannot', () => {
  test.each(symbologyIds)('%s', (id) => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ maxLength: 60 }),
          fc.string({ unit: 'binary', maxLength: 60 }),
          of(mixed, { maxLength: 120 }),
          of('0123456789', { maxLength: 160 }),
          of('ABCDEFGHIJ', { maxLength: 120 }),
          of('abcdefghij0.:/', { maxLength: 120 }),
        ),
        (payload) => {
          expect(explainFit(id, payload).fits).toBe(isMade(id, payload));
        },
      ),
      { numRuns: 60 },
    );
  });

  // what is told by its length alone, at the longest for which it is, in what takes most room
  const longest: [SymbologyId, number, EncodeOptions?][] = [
    ['qr', 423],
    ['aztec', 333],
    ['aztec', 333, { correction: 50 }],
    ['pdf417', 150],
    ['data-matrix', 516],
    ['code-128', 80],
  ];
  test.each(longest)('%s of %i characters, whatever they are, %j', (id, length, options) => {
    const plain = id === 'code-128';
    const worst = [
      plain ? '~a0 "\\Z'.repeat(20) : '字'.repeat(length),
      plain ? '~'.repeat(length) : '\uffff\u0800'.repeat(length),
      plain ? '0a1b'.repeat(length) : '€字\u0fff'.repeat(length),
    ];
    for (const text of worst) {
      const payload = text.slice(0, length);
      expect(explainFit(id, payload, options)).toEqual({ fits: true });
      expect(isMade(id, payload, options)).toBe(true);
    }
    fc.assert(
      fc.property(
        fc.string({
          unit: plain
            ? 'grapheme-ascii'
            : fc.integer({ min: 0x800, max: 0xd7ff }).map((c) => String.fromCharCode(c)),
          minLength: length,
          maxLength: length,
        }),
        (payload) => isMade(id, payload, options),
      ),
      { numRuns: 10 },
    );
  });

  test('a chosen size is asked of the plan, and not of the length', () => {
    expect(explainFit('data-matrix', 'x'.repeat(60), { size: [10, 10] }).fits).toBe(false);
    expect(explainFit('pdf417', 'x'.repeat(400), { pdf417Columns: 1 }).fits).toBe(false);
    expect(explainFit('pdf417', 'x', { pdf417Level: 9 }).fits).toBe(false);
    expect(explainFit('aztec', 'x'.repeat(90), { layers: 1 }).fits).toBe(false);
    expect(explainFit('aztec', 'x'.repeat(999), { correction: 90 }).fits).toBe(
      isMade('aztec', 'x'.repeat(999), { correction: 90 }),
    );
    expect(explainFit('maxicode', 'a'.repeat(92)).fits).toBe(isMade('maxicode', 'a'.repeat(92)));
    expect(explainFit('maxicode', 'a'.repeat(93)).fits).toBe(isMade('maxicode', 'a'.repeat(93)));
  });
});
