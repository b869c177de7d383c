import fc from 'fast-check';
import { expect, test } from 'vitest';
import { hexOf, typedColour } from '../../../src/core/look/colour';

const read = (text: string) => {
  const rgb = typedColour(text);
  return rgb && hexOf(rgb);
};

test.each([
  ['#46298f', '#46298f'],
  ['46298F', '#46298f'],
  ['#abc', '#aabbcc'],
  ['abc', '#aabbcc'],
  ['rgb(236, 253, 245)', '#ecfdf5'],
  ['RGB(236 253 245)', '#ecfdf5'],
  ['rgba(236, 253, 245, 1)', '#ecfdf5'],
  ['rgb(236 253 245 / 100%)', '#ecfdf5'],
  ['236, 253, 245', '#ecfdf5'],
  ['236 253 245', '#ecfdf5'],
  ['rgb(100%, 0%, 50%);', '#ff0080'],
  ['#46298fff', '#46298f'],
])('%s is read as it is meant', (text, hex) => expect(read(text)).toBe(hex));

test.each([
  '',
  'violet?',
  '#12',
  '256, 0, 0',
  '1, 2',
  'rgba(1, 2, 3, 0.5)',
  '#46298f80',
  '1 2 3 4 5',
])('“%s” is none, and is not made into one', (text) => expect(read(text)).toBeUndefined());

test('any three numbers come back in each form', () => {
  const part = fc.integer({ min: 0, max: 255 });
  fc.assert(
    fc.property(part, part, part, (r, g, b) => {
      const hex = hexOf({ r, g, b });
      for (const text of [hex, hex.slice(1), `rgb(${r}, ${g}, ${b})`, `${r} ${g} ${b}`])
        expect(read(text)).toBe(hex);
    }),
  );
});
