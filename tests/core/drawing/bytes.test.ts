import fc from 'fast-check';
import { expect, it } from 'vitest';
import { AsciiWriter } from '../../../src/core/artwork/bytes';

it('page contents are written as they would be as text, whatever their length', () => {
  const whole = fc.oneof(
    fc.integer({ min: 0, max: 1200 }),
    fc.constantFrom(9, 10, 99, 100, 999, 1000, 9999, 10_000, 123_456),
  );
  const rectangle = fc.tuple(whole, whole, whole, whole);
  const words = fc.constantFrom('q 1 0 0 1 2 3 cm\n', 'f Q\n', '');
  fc.assert(
    fc.property(
      fc.array(fc.oneof(rectangle, words)),
      fc.integer({ min: 1, max: 400 }),
      (all, n) => {
        const out = new AsciiWriter();
        let text = '';
        for (let i = 0; i < n; i++)
          for (const one of all)
            if (typeof one === 'string') {
              out.text(one);
              text += one;
            } else {
              out.rectangle(...one);
              text += `${one.join(' ')} re\n`;
            }
        expect(Buffer.from(out.done()).toString('latin1')).toBe(text);
      },
    ),
  );
});
