import { expect, test } from 'vitest';
import * as z from 'zod';
import {
  readStored,
  type Stored,
  StoredError,
  type StoredShape,
  writeStored,
} from '../../../src/core/base/stored';

interface Sign {
  words: string[];
  width: number;
}
/** Signs that had one line of words at first, and were measured in inches before millimetres. */
const sign: StoredShape<Sign> = {
  name: 'the sign',
  schema: z.object({ words: z.array(z.string()), width: z.number() }),
  steps: [
    ({ text, ...rest }) => ({ ...rest, words: [text] }),
    ({ width, ...rest }) => ({ ...rest, width: Number(width) * 25.4 }),
  ],
};
const stored = (document: object) => document as Stored<Sign>;

test('a document of every shape there was is read as of today', () => {
  expect(readStored(sign, stored({ text: 'Bed 4', width: 2 }))).toEqual({
    words: ['Bed 4'],
    width: 50.8,
  });
  expect(readStored(sign, stored({ shape: 1, words: ['Bed', '4'], width: 2 }))).toEqual({
    words: ['Bed', '4'],
    width: 50.8,
  });
  const today = { words: ['Bed 4'], width: 50 };
  expect(readStored(sign, stored(JSON.parse(writeStored(sign, today)) as object))).toEqual(today);
});

test('what a document was read from stays as it was', () => {
  const before = { text: 'Bed 4', width: 2 };
  readStored(sign, stored(before));
  expect(before).toEqual({ text: 'Bed 4', width: 2 });
});

test('what cannot be read says what it is, and where it is not as it should be', () => {
  const read = (document: object) => () => readStored(sign, stored(document));
  expect(read({ shape: 3, words: [], width: 1 })).toThrow(
    'A later version of Hand Stamp wrote the sign',
  );
  expect(read({ shape: 2, words: ['a', 7], width: 1 })).toThrow('(words.1)');
  expect(read({ shape: 2, words: ['a', 7], width: 1 })).toThrow(StoredError);
});
