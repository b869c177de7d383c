import * as z from 'zod';
import { beginsWith, defineBeginning } from './beginning';

const schema = z.object({ kind: z.literal('secret'), length: z.number().int().min(6).max(40) });
type Secret = z.output<typeof schema>;

export const secret = defineBeginning({
  schema,
  name: 'a value that cannot be guessed',
  about: 'Made once for each record and kept.',
  start: (): Secret => ({ kind: 'secret', length: 12 }),
  before: () => 'a value that cannot be guessed, made once for each record and kept',
  work: ({ length }, _values, before, context) => (before !== '' ? before : context.secret(length)),
  once: true,
  secret: () => true,
});

/** Whether a column holds random values that nobody can guess, different for every record. */
export const holdsUnguessable = beginsWith(({ kind }) => kind === 'secret');
