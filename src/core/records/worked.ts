import * as z from 'zod';
import { canProve, keyBytes, proofKeySchema, proofOf, unknownProof } from '../base/proof';
import { columnsIn, partSchema, saidOf } from './parts';
import {
  applyStep,
  type LookedUp,
  type StepContext,
  stepOf,
  stepSchema,
  type StepTrouble,
} from './steps';

/**
 * Where a worked column begins: columns and fixed text joined, a number in series, a value nobody
 * can guess, or a proof.
 */
const sourceSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('join'), parts: z.array(partSchema).max(20) }),
  z.object({
    kind: z.literal('series'),
    start: z.number().int().min(0).max(1e12),
    by: z.number().int().min(1).max(1000),
  }),
  z.object({ kind: z.literal('secret'), length: z.number().int().min(6).max(40) }),
  /**
   * A short address of ours, which leads to what the parts come to: for anyone, or for one person.
   */
  z.object({
    kind: z.literal('link'),
    for: z.enum(['anyone', 'one']),
    parts: z.array(partSchema).min(1).max(40),
    spaces: z.enum(['percent', 'plus']).optional(),
  }),
  /** The address of the record's own page. */
  z.object({ kind: z.literal('page') }),
  /** The address under which the picture of the record's code is given. */
  z.object({ kind: z.literal('picture'), stamp: z.string().max(40) }),
  z.object({ kind: z.literal('proof'), columns: z.array(z.string()).max(20), key: proofKeySchema }),
]);

/** How a column is worked out from others. */
export const workedSchema = z.object({ source: sourceSchema, steps: z.array(stepSchema).max(12) });
export type Worked = z.infer<typeof workedSchema>;
export type WorkedSource = Worked['source'];
/** What working a value out needs besides the record: its place in the list, and chance. */
export interface WorkedContext extends StepContext {
  /** From 0. */
  position: number;
  /** A text of `length` characters that nobody can guess. */
  secret(length: number): string;
  /**
   * The address of a record's link, of its page, or of the picture of its code: with the code of
   * the one that it had, on the base of today; else a new one.
   * @param before what it was; blank where it is not known
   */
  address(kind: 'anyone' | 'one' | 'page' | 'picture', before: string): string;
}

/** Letters and digits without those that look alike. */
export const secretAlphabet = '23456789abcdefghjkmnpqrstvwxyz';

/** The value of a worked column for a record. A secret that is there already is kept. */
export function workOut(
  { source, steps }: Worked,
  values: Readonly<Record<string, string>>,
  before: string,
  context: WorkedContext,
): string {
  if (source.kind === 'secret') return before !== '' ? before : context.secret(source.length);
  if (source.kind === 'page' || source.kind === 'picture')
    return context.address(source.kind, before);
  if (source.kind === 'link') {
    const leads = saidOf(source.parts, values, { address: true, spaces: source.spaces });
    return leads.blank.length > 0 || !leads.any ? '' : context.address(source.for, before);
  }
  let value: string;
  if (source.kind === 'series') value = String(source.start + context.position * source.by);
  else if (source.kind === 'proof') {
    const vouched = source.columns.map((id) => (values[id] ?? '').trim());
    value = vouched.every((v) => v === '')
      ? ''
      : canProve(source.key)
        ? proofOf(vouched, keyBytes(source.key))
        : unknownProof();
  } else {
    const said = source.parts.map((part) =>
      part.kind === 'text' ? part.text : (values[part.column] ?? '').trim(),
    );
    const blank = source.parts.every((part, i) => part.kind === 'text' || said[i] === '');
    value = blank && source.parts.some((part) => part.kind === 'column') ? '' : said.join('');
  }
  return steps.reduce((text, step) => applyStep(step, text, context), value);
}

/** What goes wrong on the way of a value through its steps although every step gives a result. */
export function stepTroubles(
  { source, steps }: Worked,
  values: Readonly<Record<string, string>>,
  position: number,
): StepTrouble[] {
  if (givenOnce(source) || source.kind === 'proof') return [];
  const troubles: StepTrouble[] = [];
  const context: WorkedContext = {
    position,
    secret: () => '',
    address: () => '',
    lookup: () => '',
  };
  let value = workOut({ source, steps: [] }, values, '', context);
  for (const step of steps) {
    const definition = stepOf(step);
    // what another list says is not known here
    if (definition.reads) break;
    const trouble = definition.trouble?.(step, value, source.kind === 'series');
    if (trouble) troubles.push(trouble);
    value = applyStep(step, value, context);
  }
  return troubles;
}

/**
 * All worked columns of a record, in their order, so that a later one can use an earlier one. Other
 * values stay as they are.
 */
export function withWorked(
  columns: readonly { id: string; worked?: Worked }[],
  values: Readonly<Record<string, string>>,
  context: WorkedContext,
  /** What columns held before they were blank, where that is kept elsewhere. */
  once: Readonly<Record<string, string>> = {},
): Record<string, string> {
  const out = { ...values };
  for (const { id, worked } of columns)
    if (worked) out[id] = workOut(worked, out, out[id] || (once[id] ?? ''), context);
  return out;
}

/**
 * Whether values of a column are made once for each record and kept, and so are no step-by-step
 * work.
 */
export const givenOnce = (source: WorkedSource): boolean =>
  ['secret', 'link', 'page', 'picture'].includes(source.kind);

/** Columns that a worked column is made from. */
export const sourcesOf = ({ source }: Worked): string[] =>
  source.kind === 'join' || source.kind === 'link'
    ? columnsIn(source.parts)
    : source.kind === 'proof'
      ? source.columns
      : [];

/** Records that a worked column reads from other lists. */
export const lookupsOf = ({ steps }: Worked): LookedUp[] =>
  steps.flatMap((step) => stepOf(step).reads?.(step) ?? []);

/**
 * Up to five rows whose results differ in kind: blank, longest, shortest, in another script, with
 * unusual signs.
 */
export function unlike<T>(rows: readonly T[], result: (row: T) => string): T[] {
  const made = rows.map((row) => ({ row, text: result(row) }));
  const said = made.filter((m) => m.text !== '').sort((a, b) => a.text.length - b.text.length);
  const kinds = [
    made.find((m) => m.text === ''),
    said.at(-1),
    said[0],
    said.find((m) => /[^\p{ASCII}]/u.test(m.text)),
    said.find((m) => /[^\p{L}\p{N}\s\-.,]/u.test(m.text)),
    ...said.slice(0, 10),
  ];
  return [...new Set(kinds.flatMap((m) => (m ? [m.row] : [])))].slice(0, 5);
}
