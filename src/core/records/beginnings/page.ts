import * as z from 'zod';
import { beginsWith, defineBeginning } from './beginning';

const schema = z.object({ kind: z.literal('page') });

/** The address of the record's own page. */
export const ownPage: z.output<typeof schema> = { kind: 'page' };

/** Whether a column holds the addresses of the records' own pages. */
export const holdsPages = beginsWith(({ kind }) => kind === ownPage.kind);

/** It is created when pages are created. */
export const page = defineBeginning({
  schema,
  name: 'the address of its own page',
  about: 'Every record has one from the start.',
  before: () => 'the address of the record’s own page',
  work: (_source, _values, before, context) => context.address('page', before),
  once: true,
  address: true,
});
