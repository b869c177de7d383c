import * as z from 'zod';
import { defineBeginning } from './beginning';

const highest = 1e12;
const widest = 1000;

const schema = z.object({
  kind: z.literal('series'),
  start: z.number().int().min(0).max(highest),
  by: z.number().int().min(1).max(widest),
});
type Series = z.output<typeof schema>;

export const series = defineBeginning({
  schema,
  name: 'a number in series',
  about: 'Counted along the list.',
  start: (): Series => ({ kind: 'series', start: 1, by: 1 }),
  words: ({ start, by }) => `a number in series from ${start}${by > 1 ? ` in steps of ${by}` : ''}`,
  asks: {
    as: 'numbers',
    of: [
      { of: 'start', label: 'The first record has', min: 0, max: highest },
      { of: 'by', label: 'Each next one more by', min: 1, max: widest },
    ],
  },
  work: ({ start, by }, _values, _before, { position }) => String(start + position * by),
  counted: true,
});
