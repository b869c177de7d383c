import * as z from 'zod';
import { defineStep } from './step';

export const fallback = defineStep({
  schema: z.object({ kind: z.literal('fallback'), text: z.string().max(200) }),
  name: 'fill blanks',
  about: 'A fixed text if the value is blank.',
  start: { kind: 'fallback', text: '-' },
  words: (s) => `or “${s.text}” if it is blank`,
  fields: [{ as: 'text', of: 'text', label: 'If it is blank', blank: true }],
  apply: (_, value) => value,
  fills: (s) => s.text,
});
