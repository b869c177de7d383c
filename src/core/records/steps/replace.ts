import * as z from 'zod';
import { defineStep } from './step';

export const replace = defineStep({
  schema: z.object({
    kind: z.literal('replace'),
    find: z.string().min(1).max(200),
    by: z.string().max(200),
  }),
  name: 'replace',
  about: 'One text by another, everywhere in it.',
  start: { kind: 'replace', find: ' ', by: '' },
  words: (s) => `“${s.find}” replaced by ${s.by === '' ? 'nothing' : `“${s.by}”`}`,
  fields: [
    { as: 'text', of: 'find', label: 'This text' },
    { as: 'text', of: 'by', label: 'becomes', blank: true },
  ],
  apply: (s, value) => value.replaceAll(s.find, s.by),
});
