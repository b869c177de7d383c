import * as z from 'zod';
import { defineStep } from './step';

const forms = ['capitals', 'small letters', 'capital initials'] as const;

export const letters = defineStep({
  schema: z.object({ kind: z.literal('case'), to: z.enum(forms) }),
  name: 'capitals or small letters',
  about: 'All of it, or the initials.',
  start: { kind: 'case', to: 'capitals' },
  words: (s) => `in ${s.to}`,
  fields: [{ as: 'choice', of: 'to', label: 'Letters', choices: forms }],
  apply: (s, value) => {
    if (s.to === 'capitals') return value.toLocaleUpperCase();
    if (s.to === 'small letters') return value.toLocaleLowerCase();
    return value
      .toLocaleLowerCase()
      .replace(
        /(^|[\s\-'’])(\p{L})/gu,
        (_, before: string, letter: string) => before + letter.toLocaleUpperCase(),
      );
  },
});
