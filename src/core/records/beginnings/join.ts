import * as z from 'zod';
import { columnsIn, type Part, partSchema } from '../parts';
import { defineBeginning } from './beginning';

const schema = z.object({ kind: z.literal('join'), parts: z.array(partSchema).max(20) });
type Join = z.output<typeof schema>;

/** Columns and fixed text, one after the other. */
export const joined = (parts: Part[]): Join => ({ kind: 'join', parts });

/** The parts that are joined; undefined of anything else. */
export const partsJoined = (source: { kind: string } | undefined): Part[] | undefined =>
  source?.kind === 'join' ? (source as Join).parts : undefined;

export const join = defineBeginning({
  schema,
  name: 'columns and words joined',
  about: 'Also one column alone, to change it step by step.',
  start: ([first]) => joined(first ? [{ kind: 'column', column: first.id }] : []),
  asks: { as: 'parts', of: 'parts' },
  work: ({ parts }, values) => {
    const said = parts.map((part) =>
      part.kind === 'text' ? part.text : (values[part.column] ?? '').trim(),
    );
    const blank = parts.every((part, i) => part.kind === 'text' || said[i] === '');
    return blank && parts.some((part) => part.kind === 'column') ? '' : said.join('');
  },
  madeFrom: ({ parts }) => columnsIn(parts),
});
