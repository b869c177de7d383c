import fc from 'fast-check';
import { expect, test } from 'vitest';
import { dateForms, readDate, writeDate } from '../../../src/core/records/dates';

const day = fc
  .date({ min: new Date('1000-01-01'), max: new Date('9999-12-31'), noInvalidDate: true })
  .map((d): [number, number, number] => [d.getUTCFullYear(), d.getUTCMonth() + 1, d.getUTCDate()]);
/** Forms in which a year is whole, and which number they begin with where both are numbers. */
const whole = dateForms
  .filter((form) => form !== '261123')
  .map((form) => [form, form === '11/23/2026' ? 'month' : 'day'] as const);

test.each(whole)('a day written like %s is read as that day, %s first', (form, first) => {
  fc.assert(
    fc.property(day, (date) => {
      expect(readDate(writeDate(date, form), first)).toEqual(date);
    }),
  );
});

test('one day is written as each form says itself', () => {
  expect(dateForms.map((form) => writeDate([2026, 11, 23], form))).toEqual(dateForms);
});

test.each([
  ['06/07/2026', 'day', [2026, 7, 6]],
  ['06/07/2026', 'month', [2026, 6, 7]],
  // dots are written day first everywhere
  ['06.07.2026', 'month', [2026, 7, 6]],
  ['6 July 2026', 'day', [2026, 7, 6]],
  ['6. jul. 2026', 'month', [2026, 7, 6]],
  ['2026-07-06T09:30:00Z', 'day', [2026, 7, 6]],
  ['29.02.2028', 'day', [2028, 2, 29]],
] as const)('%s with the %s first is %j', (text, first, date) => {
  expect(readDate(text, first)).toEqual(date);
});

test.each([
  ['29.02.2026', 'day'],
  ['31/04/2026', 'day'],
  ['13/13/2026', 'month'],
  ['00.01.2026', 'day'],
  ['6 Foo 2026', 'day'],
  ['06/07/26', 'day'],
  ['soon', 'day'],
  ['', 'day'],
] as const)('%s is no day for certain', (text, first) => {
  expect(readDate(text, first)).toBeUndefined();
});
