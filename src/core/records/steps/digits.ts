import * as z from 'zod';
import { defineStep } from './step';

export const digits = defineStep({
  schema: z.object({ kind: z.literal('digits') }),
  name: 'keep digits',
  about: 'Everything else is left out.',
  start: { kind: 'digits' },
  words: () => 'only its digits',
  fields: [],
  apply: (_, value) => value.replace(/\D/g, ''),
});
