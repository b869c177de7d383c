import * as z from 'zod';
import { dateForms, readDate, writeDate } from '../dates';
import { defineStep } from './step';

export const date = defineStep({
  schema: z.object({
    kind: z.literal('date'),
    as: z.enum(dateForms),
    first: z.enum(['day', 'month']),
  }),
  name: 'write as a date',
  about: 'A value that is not clearly a date becomes blank.',
  start: { kind: 'date', as: '2026-11-23', first: 'day' },
  words: (s) => `as a date like ${s.as}, read ${s.first} first`,
  fields: [
    { as: 'choice', of: 'as', label: 'Written like', choices: dateForms },
    {
      as: 'choice',
      of: 'first',
      label: 'In a date like 06/07/2026, first comes the',
      choices: ['day', 'month'],
    },
  ],
  apply: (s, value) => {
    const found = readDate(value.trim(), s.first);
    return found ? writeDate(found, s.as) : '';
  },
});
