import * as z from 'zod';
import type { Column, Values } from '../records/columns';

/** Something that is asked on the page on which people check in by themselves. */
const questionSchema = z.object({
  id: z.string().regex(/^q\d{1,4}$/),
  kind: z.enum(['text', 'choice', 'tick', 'number']),
  ask: z.string().trim().min(1, 'Enter the question.').max(200),
  choices: z.array(z.string().trim().min(1).max(100)).max(20).default([]),
  needed: z.boolean(),
  /** Asked only where this column says so; null: of all. */
  only: z.object({ column: z.string().max(40), is: z.string().max(200) }).nullable(),
  /** The column of the list for the answers; null until it is created. */
  column: z.string().max(40).nullable(),
});
export type Question = z.infer<typeof questionSchema>;

export const byOneselfSchema = z.object({
  open: z.boolean(),
  /** The text above the questions. */
  words: z.string().trim().max(600),
  /** Whether answers can be changed until the end. */
  again: z.boolean(),
  /** The last moment; null if it ends with the checkpoint. */
  ends: z.iso.datetime({ offset: true }).nullable(),
  questions: z.array(questionSchema).max(20),
});
export type ByOneself = z.infer<typeof byOneselfSchema>;

export const nobodyByOneself: ByOneself = {
  open: false,
  words: '',
  again: true,
  ends: null,
  questions: [],
};

const same = (a: string, b: string): boolean =>
  a.trim().toLocaleLowerCase() === b.trim().toLocaleLowerCase();

/** The questions for one person. A condition on a deleted column asks nobody. */
export const askedOf = (
  questions: readonly Question[],
  values: Values,
  columns: readonly Column[],
): Question[] =>
  questions.filter(
    ({ only }) =>
      only === null ||
      (columns.some((c) => c.id === only.column) && same(values[only.column] ?? '', only.is)),
  );

/** Longest answer in words. */
export const longestAnswer = 1000;

/** An answer in the form in which it is stored. @returns the problem in words, if there is one */
export function answerGiven(
  { kind, ask, choices, needed }: Question,
  typed: string,
): { value: string } | { wrong: string } {
  const value = typed.replace(/\s+/gu, ' ').trim().slice(0, longestAnswer);
  if (kind === 'tick') return { value: value === '' ? 'no' : 'yes' };
  if (value === '') return needed ? { wrong: `${ask}: please answer this.` } : { value };
  if (kind === 'choice' && !choices.includes(value))
    return { wrong: `${ask}: choose one of the answers.` };
  if (kind === 'number' && !/^-?\d{1,15}([.,]\d{1,6})?$/.test(value))
    return { wrong: `${ask}: enter a number.` };
  return { value };
}
