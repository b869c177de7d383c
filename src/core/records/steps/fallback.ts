import * as z from 'zod';
import { defineStep } from './step';

export const fallback = defineStep({
  schema: z.object({ kind: z.literal('fallback'), text: z.string().max(200) }),
  name: 'fill blanks',
  about: 'A fixed text where there is nothing.',
  start: { kind: 'fallback', text: '-' },
  words: (s) => `or “${s.text}” where it is blank`,
  fields: [{ as: 'text', of: 'text', label: 'Where it is blank', blank: true }],
  apply: (_, value) => value,
  fills: (s) => s.text,
});
