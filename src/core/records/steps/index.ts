/**
 * The steps of worked columns, one file for each. Schema, sentence, editor and work follow from the
 * entry here.
 */
import * as z from 'zod';
import { checkDigit } from './check-digit';
import { date } from './date';
import { digits } from './digits';
import { fallback } from './fallback';
import { fill } from './fill';
import { letters } from './letters';
import { lookup } from './lookup';
import { percent } from './percent';
import { replace } from './replace';
import type { StepContext, StepDefinition } from './step';
import { take } from './take';

export type { LookedUp, StepContext, StepField, StepTrouble } from './step';

const steps = [
  replace,
  fill,
  letters,
  take,
  digits,
  date,
  checkDigit,
  percent,
  fallback,
  lookup,
] as const;
type SchemasOf<T extends readonly { schema: unknown }[]> = { [I in keyof T]: T[I]['schema'] };

/** The steps of a worked column, one after the other. */
export const stepSchema = z.discriminatedUnion(
  'kind',
  steps.map((step) => step.schema) as unknown as SchemasOf<typeof steps>,
);
export type WorkedStep = z.infer<typeof stepSchema>;

/** All kinds of steps, in the order in which they are offered. */
export const stepDefinitions = steps as unknown as readonly (StepDefinition<WorkedStep> & {
  schema: z.ZodType<WorkedStep>;
})[];
const byKind = new Map(stepDefinitions.map((step) => [step.start.kind, step]));

/** Everything about the kind of a step. */
export const stepOf = ({ kind }: Pick<WorkedStep, 'kind'>): StepDefinition<WorkedStep> =>
  byKind.get(kind)!;

/**
 * The result of a step. A blank stays a blank, so that a half-filled row never becomes a junk
 * value; only a step that fills blanks fills it.
 */
export function applyStep(step: WorkedStep, value: string, context: StepContext): string {
  const definition = stepOf(step);
  return value === '' ? (definition.fills?.(step) ?? '') : definition.apply(step, value, context);
}
