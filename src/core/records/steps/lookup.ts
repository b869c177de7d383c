import * as z from 'zod';
import { refersTo } from '../../base/references';
import { defineStep } from './step';

/**
 * Looks the value up in a column of another list; the value of a second column of that record
 * replaces it.
 */
export const lookup = defineStep({
  schema: refersTo(
    'list',
    z.object({
      kind: z.literal('lookup'),
      /** 0 where none was chosen yet. */
      list: z.number().int(),
      by: z.string(),
      give: z.string(),
    }),
    ({ list, by, give }) => (list === 0 ? [] : [{ id: list, columns: [by, give] }]),
  ),
  name: 'look up in another list',
  about: 'What another list says for the same value.',
  start: { kind: 'lookup', list: 0, by: '', give: '' },
  words: (s) =>
    s.list === 0 ? 'looked up in another list (choose which)' : 'looked up in another list',
  fields: [{ as: 'other list', list: 'list', by: 'by', give: 'give' }],
  apply: (s, value, context) => context.lookup(s.list, s.by, value.trim(), s.give),
  reads: ({ list, by, give }) => ({ list, by, give }),
  unfinished: (s) => s.list === 0,
});
