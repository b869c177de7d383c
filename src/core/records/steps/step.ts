import type * as z from 'zod';

/** What a step needs beside the value. */
export interface StepContext {
  /**
   * The value of `give` in the first record of another list whose `by` is the value; blank if there
   * is none.
   */
  lookup(list: number, by: string, value: string, give: string): string;
}

/** The columns that a step reads in another list, by id. */
export interface LookedUp {
  list: number;
  by: string;
  give: string;
}

/** The problem of a step with a value that it was not meant for. */
export type StepTrouble =
  /**
   * Adds a check digit to a number that has one already; `certain` if its length allows no other
   * reading.
   */
  | { kind: 'check-digit'; value: string; certain: boolean }
  /** A number in series has outgrown the places it is filled up to. */
  | { kind: 'beyond'; value: string; places: number };

/** One field of a step in its small editor. */
export type StepField<S> =
  /** `blank` if it may be blank. */
  | { as: 'text'; of: keyof S & string; label: string; blank?: true }
  | { as: 'sign'; of: keyof S & string; label: string }
  | { as: 'number'; of: keyof S & string; label: string; min: number; max: number }
  | { as: 'choice'; of: keyof S & string; label: string; choices: readonly string[] }
  /** Another list, the column in it that is looked in, and the one that is taken. */
  | { as: 'other list'; list: keyof S & string; by: keyof S & string; give: keyof S & string };

/** Everything about a kind of step except its data: its schema, its words, and what it does. */
export interface StepDefinition<S extends { kind: string }> {
  /** In the list of steps. */
  name: string;
  about: string;
  /** As it begins. */
  start: S;
  /** In the sentence, after “it is …,”. */
  words(step: S): string;
  /** The fields of its editor; if there are none, it shows `about`. */
  fields: readonly StepField<S>[];
  /** The result for a value that is not blank. */
  apply(step: S, value: string, context: StepContext): string;
  /** The result for a blank; other steps leave a blank as it is. */
  fills?(step: S): string;
  /** The columns it reads in another list. */
  reads?(step: S): LookedUp;
  /** It cannot be saved yet, since a field is missing. */
  unfinished?(step: S): boolean;
  /**
   * A problem although there is a result.
   * @param series the value is a serial number
   */
  trouble?(step: S, value: string, series: boolean): StepTrouble | undefined;
}

/**
 * A kind of step.
 * @param definition with the schema of its data
 */
export const defineStep = <T extends z.ZodType<{ kind: string }>>(
  definition: StepDefinition<z.output<T>> & { schema: T },
): StepDefinition<z.output<T>> & { schema: T } => definition;
