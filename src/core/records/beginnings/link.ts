import * as z from 'zod';
import { columnsIn, type Part, partSchema, saidOf } from '../parts';
import { beginsWith, defineBeginning } from './beginning';

/** A short link of ours that leads to the content: for anyone, or for one person. */
const schema = z.object({
  kind: z.literal('link'),
  for: z.enum(['anyone', 'one']),
  parts: z.array(partSchema).min(1).max(40),
  spaces: z.enum(['percent', 'plus']).optional(),
});
export type LinkSource = z.output<typeof schema>;

/** A short link that leads to the content of a stamp or a column. */
export const linkTo = (
  of: LinkSource['for'],
  { parts, spaces }: { parts: Part[]; spaces?: LinkSource['spaces'] },
): LinkSource => ({ kind: 'link', for: of, parts, spaces });

export const isLink = (source: { kind: string } | undefined): source is LinkSource =>
  source?.kind === 'link';
/** Whether a column holds our links. */
export const holdsLinks = beginsWith(isLink);

export const link = defineBeginning({
  schema,
  name: 'a short link',
  about: 'A short address for each record. You can change where it leads after printing.',
  start: ([first]) =>
    linkTo('anyone', {
      parts: [
        { kind: 'text', text: 'https://' },
        ...(first ? [{ kind: 'column' as const, column: first.id }] : []),
      ],
    }),
  before: (source) =>
    `a short link ${source.for === 'one' ? 'for one person each' : 'for anyone'}, which leads to `,
  asks: { as: 'parts', of: 'parts' },
  work: (source, values, before, context) => {
    const leads = saidOf(source.parts, values, { address: true, spaces: source.spaces });
    return leads.blank.length > 0 || !leads.any ? '' : context.address(source.for, before);
  },
  once: true,
  address: true,
  madeFrom: ({ parts }) => columnsIn(parts),
  // a link for one person opens personal things; a link for anyone reveals nothing about what it is
  // made from
  secret: (source) => source.for === 'one',
});
