import { looksLikeEmail } from '../base/email';
import { checkDigitFits, gs1CheckDigit } from '../base/check-digit';
import { keyColumn, nameColumn, type Column, type Values } from './columns';
import type { Doubts } from './reading';
import { stepTroubles } from './worked';
import { holdsInvisible, latinised, mixesScripts, withoutInvisible } from './look-alikes';

/** All kinds of problems of a value, in the order in which they are shown. */
export const problemKinds = [
  'blank',
  'repeat',
  'alike',
  'same-code',
  'rounded',
  'zeros',
  'digits',
  'check-digit',
  'shape',
  'scheme',
  'mail',
  'script',
  'invisible',
  'spaces',
  'formula',
  'check-twice',
  'beyond',
  'misfit',
] as const;
export type ProblemKind = (typeof problemKinds)[number];

/**
 * The name of a kind of problem in counts, and what fixing all of them does; no `mend` if only a
 * person can fix it.
 */
export const problemWords: Record<
  ProblemKind,
  { one: string; many: string; mend?: string; help?: string }
> = {
  blank: {
    one: 'blank',
    many: 'blanks',
    help: 'Type what is missing. Until then these records get no code.',
  },
  repeat: {
    one: 'repeated key',
    many: 'repeated keys',
    mend: 'Add -2, -3 … to repeated keys',
    help: 'Two records with one key make codes that cannot be told apart.',
  },
  alike: {
    one: 'key that looks like another',
    many: 'keys that look alike',
    help: 'They differ only in case, spaces or characters that look the same, such as O and 0. People will confuse them.',
  },
  'same-code': {
    one: 'code that another record has too',
    many: 'codes that other records have too',
    help: 'The finished codes say the same.',
  },
  rounded: {
    one: 'number rounded by a spreadsheet',
    many: 'numbers rounded by a spreadsheet',
    help: 'The digits are gone from the file. Format the column as text in the spreadsheet, then update the list.',
  },
  zeros: { one: 'lost leading zero', many: 'lost leading zeros', mend: 'Put the zeros back' },
  digits: {
    one: 'wrong length',
    many: 'wrong lengths',
    help: 'A product number has 8, 12, 13 or 14 digits.',
  },
  'check-digit': {
    one: 'wrong check digit',
    many: 'wrong check digits',
    mend: 'Work out the check digit again',
    help: 'If another digit was mistyped, the number then leads to another product: compare a few with the package first.',
  },
  shape: {
    one: 'value unlike the others',
    many: 'values unlike the others',
    help: 'Nearly all values of the column are built alike; these are not.',
  },
  scheme: {
    one: 'address without https://',
    many: 'addresses without https://',
    mend: 'Put https:// in front',
  },
  mail: { one: 'wrong email address', many: 'wrong email addresses' },
  script: {
    one: 'letter of another script',
    many: 'letters of another script',
    mend: 'Write them in Latin letters',
  },
  invisible: { one: 'invisible character', many: 'invisible characters', mend: 'Remove them' },
  spaces: { one: 'stray space', many: 'stray spaces', mend: 'Remove them' },
  formula: {
    one: 'formula error',
    many: 'formula errors',
    help: 'The formula in the spreadsheet failed. Fix it there and update the list, or type the value.',
  },
  'check-twice': {
    one: 'second check digit',
    many: 'second check digits',
    help: 'The number already has a check digit. Remove the step from the worked column, or cut off the old digit before it.',
  },
  beyond: {
    one: 'number longer than its length',
    many: 'numbers longer than their length',
    help: 'The series has more digits than the length it is padded to. Choose a larger length before anything is printed.',
  },
  misfit: {
    one: 'value that does not fit the code type',
    many: 'values that do not fit the code type',
    help: 'Open Stamps and choose the code type: fixes are offered there.',
  },
};

export interface RecordProblem {
  kind: ProblemKind;
  /** Column id; empty if the whole record is meant. */
  column: string;
  /** In words, for the record's row. */
  text: string;
  /** The value that would fix it. */
  mended?: string;
}

/** What only the whole list can tell about a record. */
export interface ListFacts {
  /** Another record has the same key; a key that looks the same. */
  repeated: boolean;
  alike: boolean;
  /** Shape that nearly all values of a column have, by column id. */
  shapes: Readonly<Record<string, string>>;
  /** Worked columns that would give nearly every number of theirs a second check digit. */
  checked?: ReadonlySet<string>;
  /** Doubts about its cells from when they were read. */
  doubts?: Doubts;
  /** Position in the list, from 0, for serial numbers. */
  position?: number;
}

export const noFacts: ListFacts = { repeated: false, alike: false, shapes: {} };

const productLengths = [8, 12, 13, 14];
const scientific = /^\d(\.\d+)?E\+\d+$/i;

/**
 * A product number with zeros put before it until its check digit fits; undefined when no length
 * does.
 */
function withZeros(digits: string): string | undefined {
  return productLengths
    .filter((length) => length > digits.length)
    .map((length) => digits.padStart(length, '0'))
    .find(checkDigitFits);
}

/** How a value is built: letters as L, digits as 0, everything else as it is. */
export const shapeOf = (value: string): string =>
  plain.test(value)
    ? value.replace(/[A-Za-z]/g, 'L').replace(/[0-9]/g, '0')
    : value.replace(/\p{L}/gu, 'L').replace(/\p{N}/gu, '0');

/**
 * Nearly all values: words of visible ASCII with one space between them, about which much need not
 * be asked.
 */
const plain = /^[\x21-\x7e]+(?: [\x21-\x7e]+)*$/;

/** The shape that at least 95% of at least 20 values share. */
export function commonShape(counts: ReadonlyMap<string, number>): string | undefined {
  const all = [...counts.values()].reduce((sum, n) => sum + n, 0);
  const [shape, most] = [...counts].reduce(
    (best, entry) => (entry[1] > best[1] ? entry : best),
    ['', 0],
  );
  return all >= 20 && most >= all * 0.95 && most < all ? shape : undefined;
}

/**
 * The problems of a record's values, each with its fix if there is one. For worked columns only the
 * steps are checked: their sources are checked themselves.
 */
export function recordProblems(
  values: Values,
  columns: readonly Column[],
  facts: ListFacts = noFacts,
): RecordProblem[] {
  const problems: RecordProblem[] = [];
  const key = keyColumn(columns);
  const name = nameColumn(columns);
  for (const column of columns) {
    if (column.hidden) continue;
    const value = values[column.id] ?? '';
    const text = value.trim();
    const add = (kind: ProblemKind, words: string, mended?: string) =>
      problems.push({
        kind,
        column: column.id,
        text: `${column.name} ${words}`,
        ...(mended !== undefined && !column.worked ? { mended } : {}),
      });
    const doubt = facts.doubts?.[column.id];
    if (doubt?.of === value && doubt.kind === 'no-result') {
      add('formula', 'is a formula whose result is not stored in the file');
      continue;
    }
    if (text === '') {
      if (column === key || column === name) add('blank', 'is blank');
      continue;
    }
    if (column === key && facts.repeated) add('repeat', 'comes more than once');
    else if (column === key && facts.alike) add('alike', 'looks like that of another record');
    if (column.worked) {
      for (const trouble of stepTroubles(column.worked, values, facts.position ?? 0)) {
        if (trouble.kind === 'beyond')
          add('beyond', `is ${trouble.value}, longer than its ${trouble.places} digits`);
        else if (trouble.certain || facts.checked?.has(column.id))
          add('check-twice', `gets a second check digit: ${trouble.value} already has one`);
      }
      continue;
    }
    if (doubt?.of === value && doubt.kind === 'rounded') {
      add('rounded', 'has over 15 digits, which the spreadsheet had rounded');
      continue;
    }
    valueProblems(column, value, facts.shapes[column.id], add);
  }
  return problems;
}

type Add = (kind: ProblemKind, words: string, mended?: string) => void;

function valueProblems(column: Column, value: string, shape: string | undefined, add: Add): void {
  const text = value.trim();
  if (/^(#(REF|N\/A|VALUE|DIV\/0|NAME|NUM|NULL)[!?]?|Err:\d{3})$/.test(text))
    return add('formula', `contains a formula error (${text})`);
  if (!plain.test(value)) {
    if (holdsInvisible(value))
      add('invisible', 'contains an invisible character', withoutInvisible(value));
    if (/^\s|\s$|[^\S\n]{2,}|\u00a0/u.test(value))
      add('spaces', 'contains stray spaces', text.replace(/[^\S\n]+/gu, ' '));
    if (mixesScripts(text))
      add('script', 'mixes Latin letters with look-alikes of another script', latinised(text));
  }
  if (scientific.test(text)) return add('rounded', `was turned into ${text} by a spreadsheet`);
  if (column.role === 'product') return productProblems(text, add);
  if (column.role === 'email' && !looksLikeEmail(text)) add('mail', 'is not an email address');
  if (column.role === 'address' && !/^[a-z][a-z0-9+.-]*:/i.test(text))
    add('scheme', 'has no https:// in front', `https://${text}`);
  if (shape && shapeOf(text) !== shape) {
    if (/^0+$/.test(shape) && /^\d+$/.test(text) && text.length < shape.length)
      add(
        'zeros',
        `has ${text.length} digits where the others have ${shape.length}: leading zeros were lost`,
        text.padStart(shape.length, '0'),
      );
    else add('shape', 'is built unlike the others');
  }
}

function productProblems(text: string, add: Add): void {
  if (!/^\d+$/.test(text)) return add('digits', 'is not all digits');
  if (!productLengths.includes(text.length)) {
    const whole = withZeros(text);
    if (whole) add('zeros', `has ${text.length} digits: a leading zero was lost`, whole);
    else add('digits', `has ${text.length} digits; 8, 12, 13 or 14 are correct`);
  } else if (!checkDigitFits(text))
    add(
      'check-digit',
      'has a wrong check digit',
      text.slice(0, -1) + gs1CheckDigit(text.slice(0, -1)),
    );
}

/**
 * Numbers equal values: the first keeps its own, the later ones get -2, -3 and so on, never one
 * that is taken.
 * @param taken values of other records; the new ones are added to it
 */
export function numberedApart(repeats: readonly string[], taken: Set<string>): string[] {
  let n = 1;
  return repeats.map((value, i) => {
    if (i === 0) return value;
    do n++;
    while (taken.has(`${value}-${n}`));
    taken.add(`${value}-${n}`);
    return `${value}-${n}`;
  });
}
