import * as z from 'zod';
import { canProve, keyBytes, proofKeySchema, proofOf, unknownProof } from '../../base/proof';
import { beginsWith, defineBeginning } from './beginning';

const schema = z.object({
  kind: z.literal('proof'),
  columns: z.array(z.string()).max(20),
  key: proofKeySchema,
});
type Proof = z.output<typeof schema>;

const isProof = (source: { kind: string }): source is Proof => source.kind === 'proof';
/** Whether a column vouches for others. */
export const holdsProofs = beginsWith(isProof);

/** A worked column with another key, made of the one that it has; others stay as they are. */
export const withKey = <W extends { source: { kind: string } }>(
  worked: W,
  key: (was: string) => string,
): W =>
  isProof(worked.source)
    ? { ...worked, source: { ...worked.source, key: key(worked.source.key) } }
    : worked;

export const proof = defineBeginning({
  schema,
  name: 'a proof of other columns',
  about: 'A signature that shows whether they were changed.',
  start: (columns): Proof => ({
    kind: 'proof',
    columns: columns.slice(0, 1).map((c) => c.id),
    key: 'new',
  }),
  words: ({ columns }, nameOf) => `a proof of ${columns.map(nameOf).join(', ') || 'nothing yet'}`,
  asks: { as: 'columns', of: 'columns', label: 'It protects' },
  work: ({ columns, key }, values) => {
    const vouched = columns.map((id) => (values[id] ?? '').trim());
    if (vouched.every((v) => v === '')) return '';
    return canProve(key) ? proofOf(vouched, keyBytes(key)) : unknownProof();
  },
  vouches: true,
  madeFrom: ({ columns }) => columns,
  secret: () => true,
});
