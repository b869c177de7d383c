import fc from 'fast-check';
import { expect, test } from 'vitest';
import { rowsOf } from '../../../src/ui/features/records/pasted';

test.each([
  ['one', [['one']]],
  [
    'a\tb\nc\td',
    [
      ['a', 'b'],
      ['c', 'd'],
    ],
  ],
  ['a\tb\r\nc', [['a', 'b'], ['c']]],
  // blank cells are cells, and blank lines are rows
  ['\tb\t', [['', 'b', '']]],
  ['a\n\nb', [['a'], [''], ['b']]],
  // lines and quotes of a cell's own, as spreadsheets write them
  ['"two\nlines"\tb', [['two\nlines', 'b']]],
  ['"say ""yes"""', [['say "yes"']]],
  // quotes that are letters
  ['5" pipe\t6"', [['5" pipe', '6"']]],
  ['"Dune House\tb', [['"Dune House', 'b']]],
  [
    'a\t"b\nc\td',
    [
      ['a', '"b'],
      ['c', 'd'],
    ],
  ],
  ['a,b;c', [['a,b;c']]],
])('%j is pasted as its cells', (text, rows) => {
  expect(rowsOf(text)).toEqual(rows);
});

test('whatever is copied is cells: none is refused, and plain ones come as they are', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', minLength: 1 }), (text) => {
      expect(
        rowsOf(text)
          .flat()
          .every((cell) => typeof cell === 'string'),
      ).toBe(true);
    }),
  );
  const cell = fc.string({
    unit: fc.constantFrom('a', 'é', ' ', '0', '桂', "'", ','),
    minLength: 1,
  });
  fc.assert(
    fc.property(
      fc.array(fc.array(cell, { minLength: 1, maxLength: 5 }), { minLength: 1 }),
      (rows) => {
        expect(rowsOf(rows.map((row) => row.join('\t')).join('\n'))).toEqual(rows);
        const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`;
        expect(rowsOf(rows.map((row) => row.map(quoted).join('\t')).join('\r\n'))).toEqual(rows);
      },
    ),
  );
});
