import * as z from 'zod';
import { defineStep } from './step';

const most = 60;

export const fill = defineStep({
  schema: z.object({
    kind: z.literal('fill'),
    to: z.number().int().min(1).max(most),
    with: z.string().length(1),
    at: z.enum(['front', 'end']),
  }),
  name: 'pad to a fixed length',
  about: 'With zeros or another character.',
  start: { kind: 'fill', to: 4, with: '0', at: 'front' },
  words: (s) =>
    `padded to ${s.to} characters with ${s.with === '0' ? 'zeros' : `“${s.with}”`}${s.at === 'end' ? ' at its end' : ''}`,
  fields: [
    { as: 'number', of: 'to', label: 'Length', min: 1, max: most },
    { as: 'sign', of: 'with', label: 'Fill with' },
    { as: 'choice', of: 'at', label: 'At the', choices: ['front', 'end'] },
  ],
  apply: (s, value) =>
    s.at === 'front' ? value.padStart(s.to, s.with) : value.padEnd(s.to, s.with),
  trouble: (s, value, series) =>
    series && value.length > s.to ? { kind: 'beyond', value, places: s.to } : undefined,
});
