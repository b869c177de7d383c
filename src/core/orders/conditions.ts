import * as z from 'zod';
import { isSecret, type Column, type Values } from '../records/columns';
import { readDate } from '../records/dates';

const comparisons = [
  'is',
  'is-not',
  'blank',
  'filled',
  'begins',
  'ends',
  'contains',
  'before',
  'more',
] as const;
type Comparison = (typeof comparisons)[number];

const text = z.string().max(300).default('');

/** A condition of an order. */
const conditionSchema = z.discriminatedUnion('of', [
  z.object({
    of: z.literal('column'),
    column: z.string().max(40),
    is: z.enum(comparisons),
    value: text,
  }),
  z.object({
    of: z.literal('ending'),
    value: z.string().trim().min(1, 'Enter a file ending.').max(12),
  }),
  z.object({
    of: z.enum(['bytes', 'pages']),
    is: z.enum(['at-most', 'more']),
    value: z.number().int().min(0).max(1_000_000_000),
  }),
  z.object({ of: z.literal('done'), done: z.boolean() }),
  z.object({ of: z.literal('fits') }),
  /** It has a record: for files and calls, found by its key. */
  z.object({ of: z.literal('record') }),
]);
export type Condition = z.infer<typeof conditionSchema>;

export const conditionsSchema = z.object({
  all: z.boolean(),
  list: z.array(conditionSchema).max(8),
});
export type Conditions = z.infer<typeof conditionsSchema>;

/** What conditions are asked of. */
export interface Subject {
  values: Values;
  columns: readonly Column[];
  /** For a document. */
  file?: { name: string; bytes: number; pages: number | undefined };
  /** Whether this order has done this very thing already. */
  done: boolean;
  /** Whether its stamps fit. */
  fits: boolean;
  /** Whether a record is known that it is of. */
  record: boolean;
}

/** The result of a condition: null if it was not checked, since those before it decided. */
export interface Asked {
  holds: boolean;
  /** Why it does not hold, in words. */
  why: string;
}

/** Asks conditions in their order, up to the one that decides. With none, everything holds. */
export function asked(
  { all, list }: Conditions,
  subject: Subject,
): { holds: boolean; each: (Asked | null)[] } {
  let decided = false;
  const each = list.map((condition) => {
    if (decided) return null;
    const why = whyNot(condition, subject);
    const holds = why === undefined;
    // of all, the first that does not hold decides; of any, the first that does
    decided = all !== holds;
    return { holds, why: why ?? '' };
  });
  return { holds: all ? !decided : decided || list.length === 0, each };
}

/** Why a condition is not met; undefined if it is. */
function whyNot(condition: Condition, subject: Subject): string | undefined {
  switch (condition.of) {
    case 'column':
      return columnNot(condition, subject);
    case 'ending': {
      if (!subject.file) return noFile;
      const wanted = condition.value.replace(/^\./, '').toLowerCase();
      const own = /\.([^.]+)$/.exec(subject.file.name)?.[1]?.toLowerCase();
      return own === wanted ? undefined : `it is ${own ? `a .${own}` : 'without an ending'}`;
    }
    case 'bytes':
    case 'pages': {
      if (!subject.file) return noFile;
      const own = subject.file[condition.of];
      if (own === undefined) return 'its number of pages is not known';
      const unit = condition.of === 'pages' ? (own === 1 ? 'page' : 'pages') : 'bytes';
      return (condition.is === 'more') === own > condition.value
        ? undefined
        : `it has ${own.toLocaleString('en')} ${unit}`;
    }
    case 'done':
      return condition.done === subject.done
        ? undefined
        : subject.done
          ? 'it was already done'
          : 'it was not done yet';
    case 'fits':
      return subject.fits ? undefined : 'one of its stamps does not fit';
    case 'record':
      return subject.record ? undefined : 'its record is not known';
  }
}
const noFile = 'it is not a document';

const low = (value: string): string => value.trim().toLocaleLowerCase();

const compares: Readonly<Record<Comparison, (value: string, wanted: string) => boolean>> = {
  is: (value, wanted) => value === wanted,
  'is-not': (value, wanted) => value !== wanted,
  blank: (value) => value === '',
  filled: (value) => value !== '',
  begins: (value, wanted) => value.startsWith(wanted),
  ends: (value, wanted) => value.endsWith(wanted),
  contains: (value, wanted) => value.includes(wanted),
  before: (value, wanted) => compared(value, wanted) < 0,
  more: (value, wanted) => compared(value, wanted) > 0,
};

function columnNot(
  { column, is, value: wanted }: Extract<Condition, { of: 'column' }>,
  { values, columns }: Subject,
): string | undefined {
  const known = columns.find((c) => c.id === column);
  if (!known) return 'its column was deleted';
  const value = (values[column] ?? '').trim();
  if (compares[is](low(value), low(wanted))) return undefined;
  if (value === '') return `its ${known.name} is blank`;
  // a secret is not shown
  return `its ${known.name} is ${isSecret(known, columns) ? 'something else' : value}`;
}

/**
 * Negative if a value comes before another: as days if both are days, as numbers if both are; NaN
 * if they cannot be compared.
 */
function compared(a: string, b: string): number {
  const [day, other] = [dayOf(a), dayOf(b)];
  if (day !== undefined && other !== undefined) return day - other;
  const number = (text: string) => (text === '' ? NaN : Number(text.replace(',', '.')));
  return number(a) - number(b);
}

const dayOf = (text: string): number | undefined => {
  const found = readDate(text, 'day');
  return found && Date.UTC(found[0], found[1] - 1, found[2]);
};
