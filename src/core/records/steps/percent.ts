import * as z from 'zod';
import { landed } from '../../base/landing';
import { defineStep } from './step';

export const percent = defineStep({
  schema: z.object({ kind: z.literal('percent') }),
  name: 'percent-encode',
  about: 'For a place in a web address.',
  start: { kind: 'percent' },
  words: () => 'percent-encoded',
  fields: [],
  apply: (_, value) => landed(value, { where: 'path', levels: 1 }, 'percent'),
});
