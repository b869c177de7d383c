/**
 * The settings of code types: each setting once, with its schema, its field and its default. A code
 * type's entry names the settings it has.
 */
import * as z from 'zod';
import { mapped } from '../base/tuple';
import { databarForms } from './databar/encode';

type Said = string | number | boolean;

/** One setting. `schema` is for its stored value. */
export type Choice<T extends Said = Said> = { schema: z.ZodType<T>; label: string } & (
  | { as: 'tick' }
  /** `nothing` stands for that nothing is said, which is what is kept then. */
  | { as: 'number'; min: number; max: number; step: number; usual: number; nothing?: number }
  | { as: 'one of'; choices: readonly { id: string | number; name: string }[]; usual: T | '' }
);
const choice = <T extends Said>(of: Choice<T>): Choice<T> => of;

const heights = [7, 9, 11, 13, 15, 17] as const;
const mostHeight = heights[heights.length - 1]!;

const all = {
  shape: choice({
    schema: z.enum(['square', 'rectangle']),
    label: 'Shape',
    as: 'one of',
    choices: [
      { id: 'square', name: 'square' },
      { id: 'rectangle', name: 'rectangle, for narrow places' },
    ],
    usual: 'square',
  }),
  wide: choice({
    schema: z.union([z.literal(2), z.literal(3)]),
    label: 'Wide bars',
    as: 'one of',
    choices: [
      { id: 3, name: 'three squares' },
      { id: 2, name: 'two squares, shorter' },
    ],
    usual: 3,
  }),
  fullAscii: choice({
    schema: z.boolean(),
    label: 'all of ASCII, by pairs of characters',
    as: 'tick',
  }),
  checkCharacter: choice({ schema: z.boolean(), label: 'with a check character', as: 'tick' }),
  addCheckDigit: choice({
    schema: z.boolean(),
    label: 'the numbers lack their check digit: add the check digit',
    as: 'tick',
  }),
  correction: choice({
    schema: z.number().int().min(5).max(90),
    label: 'Share kept for error correction, %',
    as: 'number',
    min: 5,
    max: 90,
    step: 1,
    usual: 23,
  }),
  databar: choice({
    schema: z.enum(databarForms),
    label: 'Form',
    as: 'one of',
    choices: [
      { id: '', name: 'automatic' },
      ...databarForms.map((id) => ({ id, name: id.replaceAll('-', ' ') })),
    ],
    usual: '',
  }),
  segmentsPerRow: choice({
    schema: z.number().int().min(2).max(20),
    label: 'Segments in a row',
    as: 'number',
    min: 2,
    max: 20,
    step: 2,
    usual: 4,
  }),
  pdf417Level: choice({
    schema: z.number().int().min(0).max(8),
    label: 'Correction level, 0 to 8 (-1: automatic)',
    as: 'number',
    min: -1,
    max: 8,
    step: 1,
    usual: -1,
    nothing: -1,
  }),
  pdf417Columns: choice({
    schema: z.number().int().min(0).max(30),
    label: 'Columns of data (0: automatic)',
    as: 'number',
    min: 0,
    max: 30,
    step: 1,
    usual: 0,
    nothing: 0,
  }),
  pdf417Compact: choice({
    schema: z.boolean(),
    label: 'compact, for places where nothing is damaged',
    as: 'tick',
  }),
  maxRows: choice({
    schema: z.number().int().min(heights[0]).max(mostHeight),
    label: 'At most this high, squares',
    as: 'one of',
    choices: mapped(heights, (n) => ({ id: n, name: String(n) })),
    usual: mostHeight,
  }),
};
type All = typeof all;
export type ChoiceId = keyof All;

/** The settings of a code type; a missing one has its default. */
export const codeOptionsSchema = z.object(
  Object.fromEntries(Object.entries(all).map(([id, { schema }]) => [id, schema.optional()])) as {
    [K in ChoiceId]: z.ZodOptional<All[K]['schema']>;
  },
);
export type CodeOptions = z.infer<typeof codeOptionsSchema>;

/** What a symbology lets one choose. */
export interface Choices {
  /** In the sentence, in brackets after the code type. */
  words(chosen: CodeOptions): string;
  /** In the order of their fields, which may depend on the settings so far. */
  asks(chosen: CodeOptions): readonly ChoiceId[];
}

/** How something is asked. */
export const choiceOf = (id: ChoiceId): Choice => all[id] as unknown as Choice;

/** The displayed value of a setting: the chosen one, or the default. */
export function shownOf(id: ChoiceId, chosen: CodeOptions): Said {
  const of = choiceOf(id);
  return chosen[id] ?? (of.as === 'tick' ? false : of.usual);
}

/** The stored value after a choice: nothing for the default. */
export function withChoice(id: ChoiceId, chosen: CodeOptions, said: Said): CodeOptions {
  const of = choiceOf(id);
  const nothing = said === '' || (of.as === 'number' && said === of.nothing);
  return { ...chosen, [id]: nothing ? undefined : said };
}

const asked = (...ids: ChoiceId[]): Choices['asks'] => {
  return () => ids;
};
const said = (...words: (string | false | undefined)[]): string => words.filter(Boolean).join(', ');

/** The choices of the symbologies that have any. */
export const code39Choices: Choices = {
  words: (o) =>
    said(
      o.fullAscii ? 'all of ASCII' : 'capitals and digits',
      o.checkCharacter && 'with a check character',
    ),
  asks: asked('fullAscii', 'checkCharacter', 'wide'),
};
export const codabarChoices: Choices = {
  words: (o) => `${o.checkCharacter ? 'with' : 'without'} a check character`,
  asks: asked('checkCharacter', 'wide'),
};
export const itfChoices: Choices = {
  words: (o) => `wide bars of ${shownOf('wide', o)} squares`,
  asks: asked('wide'),
};
const checkDigitWords = (o: CodeOptions): string =>
  o.addCheckDigit ? 'the check digit is added' : 'numbers with their check digit';
export const productChoices: Choices = {
  words: checkDigitWords,
  asks: asked('addCheckDigit'),
};
export const itf14Choices: Choices = {
  words: (o) => said(checkDigitWords(o), itfChoices.words(o)),
  asks: asked('addCheckDigit', 'wide'),
};
export const dataMatrixChoices: Choices = {
  words: (o) => `a ${shownOf('shape', o)}`,
  asks: asked('shape'),
};
export const aztecChoices: Choices = {
  words: (o) => `${shownOf('correction', o)}% for correction`,
  asks: asked('correction'),
};
export const rmqrChoices: Choices = {
  words: (o) => `at most ${shownOf('maxRows', o)} squares high`,
  asks: asked('maxRows'),
};
export const pdf417Choices: Choices = {
  words: (o) =>
    said(
      o.pdf417Columns ? `${o.pdf417Columns} columns` : 'automatic width',
      o.pdf417Level === undefined ? 'usual correction' : `correction level ${o.pdf417Level}`,
      o.pdf417Compact && 'compact',
    ),
  asks: asked('pdf417Columns', 'pdf417Level', 'pdf417Compact'),
};
export const databarChoices: Choices = {
  words: (o) =>
    said(
      (o.databar ?? 'the automatic form').replaceAll('-', ' '),
      o.addCheckDigit && 'the check digit is added',
    ),
  asks: (o) => [
    'databar',
    ...(o.databar === 'expanded-stacked' ? ['segmentsPerRow' as const] : []),
    'addCheckDigit',
  ],
};
