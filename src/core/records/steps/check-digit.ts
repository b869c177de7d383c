import * as z from 'zod';
import { checkDigitFits, gs1CheckDigit } from '../../base/check-digit';
import { defineStep } from './step';

/** Lengths of numbers that end in a check digit (GS1 General Specifications, 7.9). */
const withOne = /^(\d{8}|\d{12,14}|\d{18})$/;

export const checkDigit = defineStep({
  schema: z.object({ kind: z.literal('check-digit') }),
  name: 'check digit',
  about: 'The check digit of a product number added at its end.',
  start: { kind: 'check-digit' },
  words: () => 'with its check digit',
  fields: [],
  apply: (_, value) => (/^\d+$/.test(value) ? value + gs1CheckDigit(value) : ''),
  trouble: (_, value) =>
    withOne.test(value) && checkDigitFits(value)
      ? { kind: 'check-digit', value, certain: ![12, 13].includes(value.length) }
      : undefined,
});
