import * as z from 'zod';
import { defineBeginning } from './beginning';

/** The address under which the picture of the record's code is given. */
const schema = z.object({ kind: z.literal('picture'), stamp: z.string().max(40) });

type Picture = z.output<typeof schema>;

/** The stamp whose picture addresses a column holds; undefined if it holds none. */
export const pictureStamp = (source: { kind: string } | undefined): string | undefined =>
  source?.kind === 'picture' ? (source as Picture).stamp : undefined;

export const picture = defineBeginning({
  schema,
  name: 'the picture address of its code',
  about: 'For a web page, an email or another spreadsheet. Every record has one from the start.',
  start: (): Picture => ({ kind: 'picture', stamp: 'stamp-1' }),
  before: (_source, stamps) =>
    stamps < 2
      ? 'the address of the picture of the record’s code'
      : 'the address of the picture of the code of ',
  asks: { as: 'stamp', of: 'stamp' },
  work: (_source, _values, before, context) => context.address('picture', before),
  once: true,
  address: true,
});
