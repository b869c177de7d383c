import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { BitBuffer } from '../../../src/core/symbology/bits';
import { coderFor, GaloisField } from '../../../src/core/symbology/galois';

/**
 * The fields of the symbologies with their primitive polynomials: QR, Data Matrix and Aztec, and
 * Aztec's others.
 */
const fields = [
  [0x11d, 256],
  [0x12d, 256],
  [0x13, 16],
  [0x43, 64],
  [0x409, 1024],
  [0x1069, 4096],
] as const;

describe.each(fields)('the field of polynomial %i with %i elements', (primitive, size) => {
  const field = new GaloisField(primitive, size);
  const element = fc.integer({ min: 0, max: size - 1 });

  test('its generator goes through every element but 0 once', () => {
    expect(new Set(field.exp.subarray(0, size - 1)).size).toBe(size - 1);
    expect(field.exp.subarray(0, size - 1)).not.toContain(0);
  });

  test('multiplying is as a field’s: it commutes, associates, distributes over exclusive or, and has 1', () => {
    fc.assert(
      fc.property(element, element, element, (a, b, c) => {
        expect(field.multiply(a, b)).toBe(field.multiply(b, a));
        expect(field.multiply(field.multiply(a, b), c)).toBe(
          field.multiply(a, field.multiply(b, c)),
        );
        expect(field.multiply(a, b ^ c)).toBe(field.multiply(a, b) ^ field.multiply(a, c));
        expect(field.multiply(a, 1)).toBe(a);
      }),
    );
  });

  test('it is what polynomials multiplied by hand come to', () => {
    const byHand = (a: number, b: number): number => {
      let sum = 0;
      for (let shifted = a, rest = b; rest > 0; rest >>= 1, shifted <<= 1) {
        if (shifted >= size) shifted ^= primitive;
        if (rest & 1) sum ^= shifted;
      }
      return sum;
    };
    fc.assert(
      fc.property(element, element, (a, b) => {
        expect(field.multiply(a, b)).toBe(byHand(a, b));
      }),
    );
  });

  test('data with their check words are 0 at every root of the generator, and at no other place when one word is spoilt', () => {
    const most = Math.min(size - 2, 60);
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: Math.min(30, most - 1) }),
        fc.constantFrom(0, 1),
        fc.array(element, { minLength: 1, maxLength: most - 30 > 0 ? most - 30 : 1 }),
        fc.nat(),
        (degree, firstRoot, data, at) => {
          const checks = new Uint16Array(degree);
          coderFor(field, degree, firstRoot).encode(data, 0, data.length, checks, 0);
          const word = [...data, ...checks];
          const valueAt = (words: readonly number[], x: number) =>
            words.reduce((sum, w) => field.multiply(sum, x) ^ w, 0);
          for (let i = 0; i < degree; i++)
            expect(valueAt(word, field.exp[(i + firstRoot) % (size - 1)]!)).toBe(0);
          const spoilt = [...word];
          spoilt[at % word.length]! ^= 1;
          expect(valueAt(spoilt, field.exp[firstRoot]!)).not.toBe(0);
        },
      ),
    );
  });
});

test('bits come out in the order in which they went in, whatever their number', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 0, max: 24 }), fc.nat(0xffffff)), { maxLength: 80 }),
      (parts) => {
        const bits = new BitBuffer(1);
        let said = '';
        for (const [count, value] of parts) {
          bits.append(value, count);
          said += count === 0 ? '' : (value & (2 ** count - 1)).toString(2).padStart(count, '0');
        }
        expect(bits.length).toBe(said.length);
        const held = Array.from(bits.toBytes(), (b) => b.toString(2).padStart(8, '0')).join('');
        expect(held).toBe(said.padEnd(Math.ceil(said.length / 8) * 8, '0'));
      },
    ),
  );
});
