import type { ColumnRole } from '../records/columns';
import { readDate } from '../records/dates';
import { separators, writtenDates, type Form, type WrittenDate } from '../piece/ground';

const months = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];
const days = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];

/** A day in one of the ways in which documents write it. */
function writtenDate([y, m, d]: readonly [number, number, number], as: WrittenDate): string {
  const two = (n: number) => String(n).padStart(2, '0');
  const month = months[m - 1]!;
  const day = days[new Date(Date.UTC(y, m - 1, d)).getUTCDay()];
  const forms: Record<WrittenDate, string> = {
    '2026-11-23': `${y}-${two(m)}-${two(d)}`,
    '23.11.2026': `${two(d)}.${two(m)}.${y}`,
    '23/11/2026': `${two(d)}/${two(m)}/${y}`,
    '11/23/2026': `${two(m)}/${two(d)}/${y}`,
    '23 Nov 2026': `${d} ${month.slice(0, 3)} ${y}`,
    '23 November 2026': `${d} ${month} ${y}`,
    '23. November 2026': `${d}. ${month} ${y}`,
    'Nov 23, 2026': `${month.slice(0, 3)} ${d}, ${y}`,
    'November 23, 2026': `${month} ${d}, ${y}`,
    'Monday, 23 November 2026': `${day}, ${d} ${month} ${y}`,
    'Monday, November 23, 2026': `${day}, ${month} ${d}, ${y}`,
  };
  return forms[as];
}

const wholeNumber = /^(-?)(\d{1,3}(?:[,.\u00a0\u202f’ ]\d{3})+|\d{4,15})((?:[.,]\d{1,2})?)$/;
const grouped = (digits: string, between: string): string =>
  digits.replace(/\B(?=(\d{3})+$)/g, between);

/**
 * Sign, digits and decimals of a number with or without separators; undefined for anything else.
 */
function numberIn(text: string): { sign: string; digits: string; rest: string } | undefined {
  const [, sign = '', whole, rest] = wholeNumber.exec(text) ?? [];
  return whole === undefined
    ? undefined
    : { sign, digits: whole.replace(/\D/g, ''), rest: rest ?? '' };
}

const initials = (text: string): string =>
  text
    .toLocaleLowerCase('en')
    .replace(/(^|[\s\-’'(])(\p{L})/gu, (all) => all.toLocaleUpperCase('en'));

/** A value as a form writes it; one that the form does not understand stays as it is. */
export function written(value: string, form: Form | undefined): string {
  if (!form) return value;
  switch (form.kind) {
    case 'case':
      return form.to === 'capitals'
        ? value.toLocaleUpperCase('en')
        : form.to === 'small letters'
          ? value.toLocaleLowerCase('en')
          : initials(value);
    case 'word': {
      const words = value.trim().split(/\s+/);
      return (form.which === 'first' ? words[0] : words.at(-1)) ?? '';
    }
    case 'date': {
      const date = readDate(value.trim(), form.first);
      return date ? writtenDate(date, form.as) : value;
    }
    case 'number': {
      const number = numberIn(value.trim());
      return number ? number.sign + grouped(number.digits, form.between) + number.rest : value;
    }
  }
}

export interface WrittenForm {
  text: string;
  form?: Form;
  /** So similar to the value that it is hardly a coincidence. */
  sure: boolean;
}

/**
 * The forms in which a value may be written in a document, the most telling first; each text once.
 */
export function formsOf(value: string, role: ColumnRole): WrittenForm[] {
  const text = value.trim().replace(/\s+/g, ' ');
  if (text === '') return [];
  const forms: WrittenForm[] = [];
  const add = (as: string, form: Form | undefined, sure: boolean) => {
    if (as !== '' && !forms.some((f) => f.text === as))
      forms.push({ text: as, ...(form ? { form } : {}), sure });
  };
  // “12” or “Yes” are in any document
  const telling = text.length >= 4 || role === 'key' || role === 'name';
  add(text, undefined, telling);
  for (const first of ['day', 'month'] as const) {
    const date = readDate(text, first);
    if (!date) continue;
    for (const as of writtenDates) {
      // the other order is used only if the first one gives no date
      if (first === 'month' && readDate(text, 'day')) continue;
      add(writtenDate(date, as), { kind: 'date', as, first }, true);
    }
  }
  const number = numberIn(text);
  if (number && !text.startsWith('0'))
    for (const between of separators)
      add(
        number.sign + grouped(number.digits, between) + number.rest,
        { kind: 'number', between },
        number.digits.length >= 4,
      );
  if (/\p{L}/u.test(text)) {
    for (const to of ['capitals', 'small letters', 'capital initials'] as const)
      add(written(text, { kind: 'case', to }), { kind: 'case', to }, text.length >= 6);
    if (role === 'name' && text.includes(' '))
      for (const which of ['first', 'last'] as const) {
        const word = written(text, { kind: 'word', which });
        if (word.length >= 2) add(word, { kind: 'word', which }, false);
      }
  }
  return forms;
}
