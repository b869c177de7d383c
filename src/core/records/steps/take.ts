import * as z from 'zod';
import { counted } from '../../base/words';
import { defineStep } from './step';

const most = 500;

export const take = defineStep({
  schema: z.object({
    kind: z.literal('take'),
    which: z.enum(['first', 'last']),
    count: z.number().int().min(1).max(most),
  }),
  name: 'take a part',
  about: 'Its first or last characters.',
  start: { kind: 'take', which: 'first', count: 3 },
  words: (s) => `its ${s.which} ${counted(s.count, 'character')}`,
  fields: [
    { as: 'choice', of: 'which', label: 'Which end', choices: ['first', 'last'] },
    { as: 'number', of: 'count', label: 'Characters', min: 1, max: most },
  ],
  apply: (s, value) => {
    const characters = Array.from(value);
    return (s.which === 'first' ? characters.slice(0, s.count) : characters.slice(-s.count)).join(
      '',
    );
  },
});
