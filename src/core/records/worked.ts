import * as z from 'zod';
import { checkDigitFits, gs1CheckDigit } from '../base/check-digit';
import { landed } from '../base/landing';
import { canProve, keyBytes, proofKeySchema, proofOf, unknownProof } from '../base/proof';
import { columnsIn, partSchema, saidOf } from './parts';

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

const dateForms = [
  '2026-11-23',
  '23.11.2026',
  '23/11/2026',
  '11/23/2026',
  '23 Nov 2026',
  '261123',
] as const;

/** What is done to it, one step after the other. */
const stepSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('replace'),
    find: z.string().min(1).max(200),
    by: z.string().max(200),
  }),
  z.object({
    kind: z.literal('fill'),
    to: z.number().int().min(1).max(60),
    with: z.string().length(1),
    at: z.enum(['front', 'end']),
  }),
  z.object({
    kind: z.literal('case'),
    to: z.enum(['capitals', 'small letters', 'capital initials']),
  }),
  z.object({
    kind: z.literal('take'),
    which: z.enum(['first', 'last']),
    count: z.number().int().min(1).max(500),
  }),
  z.object({ kind: z.literal('digits') }),
  z.object({ kind: z.literal('date'), as: z.enum(dateForms), first: z.enum(['day', 'month']) }),
  z.object({ kind: z.literal('check-digit') }),
  z.object({ kind: z.literal('percent') }),
  z.object({ kind: z.literal('fallback'), text: z.string().max(200) }),
  /**
   * The value is looked for in a column of another list; what stands in a second column of that
   * record takes its place.
   */
  z.object({ kind: z.literal('lookup'), list: z.number().int(), by: z.string(), give: z.string() }),
]);

/** How a column is worked out from others. */
export const workedSchema = z.object({ source: sourceSchema, steps: z.array(stepSchema).max(12) });
export type Worked = z.infer<typeof workedSchema>;
export type WorkedSource = Worked['source'];
export type WorkedStep = Worked['steps'][number];
export { dateForms };

const months = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');

/**
 * A date out of the ways in which people and spreadsheets write it; undefined where it cannot be
 * told for certain.
 */
export function readDate(
  text: string,
  first: 'day' | 'month',
): [year: number, month: number, day: number] | undefined {
  const iso = /^(\d{4})-(\d\d?)-(\d\d?)/.exec(text);
  const numbers = /^(\d\d?)[./ -](\d\d?)[./ -](\d{4})$/.exec(text);
  const words = /^(\d\d?)[. ]+([A-Za-z]{3})[a-z]*[. ]+(\d{4})$/.exec(text);
  let found: [number, number, number] | undefined;
  if (iso) found = [Number(iso[1]), Number(iso[2]), Number(iso[3])];
  else if (words)
    found = [
      Number(words[3]),
      months.findIndex((m) => m.toLowerCase() === words[2].toLowerCase()) + 1,
      Number(words[1]),
    ];
  // dots are written day first everywhere
  else if (numbers)
    found =
      first === 'day' || text.includes('.')
        ? [Number(numbers[3]), Number(numbers[2]), Number(numbers[1])]
        : [Number(numbers[3]), Number(numbers[1]), Number(numbers[2])];
  if (!found) return undefined;
  const date = new Date(Date.UTC(found[0], found[1] - 1, found[2]));
  return date.getUTCMonth() === found[1] - 1 && date.getUTCDate() === found[2] ? found : undefined;
}

export function writeDate(
  [y, m, d]: [number, number, number],
  as: (typeof dateForms)[number],
): string {
  const two = (n: number) => String(n).padStart(2, '0');
  const forms: Record<(typeof dateForms)[number], string> = {
    '2026-11-23': `${y}-${two(m)}-${two(d)}`,
    '23.11.2026': `${two(d)}.${two(m)}.${y}`,
    '23/11/2026': `${two(d)}/${two(m)}/${y}`,
    '11/23/2026': `${two(m)}/${two(d)}/${y}`,
    '23 Nov 2026': `${d} ${months[m - 1]} ${y}`,
    '261123': `${two(y % 100)}${two(m)}${two(d)}`,
  };
  return forms[as];
}

function apply(step: WorkedStep, value: string, context: WorkedContext): string {
  // a blank stays a blank, so that a half-filled row never becomes a junk value; only a fallback
  // fills it
  if (value === '') return step.kind === 'fallback' ? step.text : '';
  switch (step.kind) {
    case 'replace':
      return value.replaceAll(step.find, step.by);
    case 'fill':
      return step.at === 'front'
        ? value.padStart(step.to, step.with)
        : value.padEnd(step.to, step.with);
    case 'case':
      if (step.to === 'capitals') return value.toLocaleUpperCase();
      if (step.to === 'small letters') return value.toLocaleLowerCase();
      return value
        .toLocaleLowerCase()
        .replace(
          /(^|[\s\-'’])(\p{L})/gu,
          (_, before: string, letter: string) => before + letter.toLocaleUpperCase(),
        );
    case 'take': {
      const characters = Array.from(value);
      return (
        step.which === 'first' ? characters.slice(0, step.count) : characters.slice(-step.count)
      ).join('');
    }
    case 'digits':
      return value.replace(/\D/g, '');
    case 'date': {
      const date = readDate(value.trim(), step.first);
      return date ? writeDate(date, step.as) : '';
    }
    case 'check-digit':
      return /^\d+$/.test(value) ? value + gs1CheckDigit(value) : '';
    case 'percent':
      return landed(value, { where: 'path', levels: 1 }, 'percent');
    case 'fallback':
      return value;
    case 'lookup':
      return context.lookup(step.list, step.by, value.trim(), step.give);
  }
}

/** What working a value out needs besides the record: its place in the list, and chance. */
export interface WorkedContext {
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
  /**
   * What `give` holds in the first record of another list whose `by` is the value; blank when there
   * is none.
   */
  lookup(list: number, by: string, value: string, give: string): string;
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
  return steps.reduce((text, step) => apply(step, text, context), value);
}

/** What a step does to a value that it was not meant for. */
export type StepTrouble =
  /**
   * A check digit is put behind a number that has one; `certain` where its length leaves no other
   * reading.
   */
  | { kind: 'check-digit'; value: string; certain: boolean }
  /** A number in series has outgrown the places it is filled up to. */
  | { kind: 'beyond'; value: string; places: number };

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
    // what another list says is not known here
    if (step.kind === 'lookup') break;
    if (
      step.kind === 'check-digit' &&
      /^(\d{8}|\d{12,14}|\d{18})$/.test(value) &&
      checkDigitFits(value)
    )
      troubles.push({ kind: 'check-digit', value, certain: ![12, 13].includes(value.length) });
    if (step.kind === 'fill' && source.kind === 'series' && value.length > step.to)
      troubles.push({ kind: 'beyond', value, places: step.to });
    value = apply(step, value, context);
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
export const lookupsOf = ({ steps }: Worked): Extract<WorkedStep, { kind: 'lookup' }>[] =>
  steps.filter((step) => step.kind === 'lookup');

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
