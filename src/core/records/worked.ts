import * as z from 'zod';
import {
  type BeginningContext,
  beginningOf,
  beginningSchema,
  type WorkedSource,
} from './beginnings';
import {
  applyStep,
  type LookedUp,
  type StepContext,
  stepOf,
  stepSchema,
  type StepTrouble,
} from './steps';

/** How a column is worked out from others. */
export const workedSchema = z.object({
  source: beginningSchema,
  steps: z.array(stepSchema).max(12),
});
export type Worked = z.infer<typeof workedSchema>;
/** What the calculation of a value needs beside the record. */
export type WorkedContext = StepContext & BeginningContext;

/** Letters and digits without those that look alike. */
export const secretAlphabet = '23456789abcdefghjkmnpqrstvwxyz';

/** The value of a worked column for a record. A secret that is there already is kept. */
export function workOut(
  { source, steps }: Worked,
  values: Readonly<Record<string, string>>,
  before: string,
  context: WorkedContext,
): string {
  const beginning = beginningOf(source);
  const value = beginning.work(source, values, before, context);
  if (beginning.once) return value;
  return steps.reduce((text, step) => applyStep(step, text, context), value);
}

/** Problems on a value's way through its steps, although every step gives a result. */
export function stepTroubles(
  { source, steps }: Worked,
  values: Readonly<Record<string, string>>,
  position: number,
): StepTrouble[] {
  const beginning = beginningOf(source);
  if (beginning.once || beginning.vouches) return [];
  const troubles: StepTrouble[] = [];
  const context: WorkedContext = {
    position,
    secret: () => '',
    address: () => '',
    lookup: () => '',
  };
  let value = beginning.work(source, values, '', context);
  for (const step of steps) {
    const definition = stepOf(step);
    // what another list says is not known here
    if (definition.reads) break;
    const trouble = definition.trouble?.(step, value, beginning.counted === true);
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
  /** Earlier values of columns before they became blank, if those are stored elsewhere. */
  once: Readonly<Record<string, string>> = {},
): Record<string, string> {
  const out = { ...values };
  for (const { id, worked } of columns)
    if (worked) out[id] = workOut(worked, out, out[id] || (once[id] ?? ''), context);
  return out;
}

/**
 * Whether values of a column are created once per record and kept, instead of being calculated by
 * steps.
 */
export const givenOnce = (source: WorkedSource): boolean => beginningOf(source).once === true;

/** Columns that a worked column is made from. */
export const sourcesOf = ({ source }: Worked): string[] =>
  beginningOf(source).madeFrom?.(source) ?? [];

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
