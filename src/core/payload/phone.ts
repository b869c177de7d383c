import {
  getCountries,
  getCountryCallingCode,
  parsePhoneNumberFromString,
  type CountryCode,
} from 'libphonenumber-js/min';
import { EncodeError } from '../symbology/types';

/**
 * How to read numbers without a country: as numbers of that country (ISO 3166), or as they are, for
 * dialling inside it.
 */
export type DialFrom = '' | 'as-written' | CountryCode;

const names = new Intl.DisplayNames('en', { type: 'region' });
export const dialChoices: readonly { value: DialFrom; label: string }[] = [
  { value: '', label: 'left out: each needs + and its country' },
  { value: 'as-written', label: 'as they are, for people in the same country' },
  ...getCountries()
    .map((code) => ({
      value: code,
      label: `of ${names.of(code) ?? code}, +${getCountryCallingCode(code)}`,
    }))
    .sort((a, b) => a.label.localeCompare(b.label, 'en')),
];

const wrong = (message: string, mend: string): EncodeError =>
  new EncodeError('character', message, { mend });
const extension = /(?:;ext=|[\s,]*\b(?:extension|extn|ext|x)\.?\s*|\s*#\s*)(\d{1,7})$/i;
const withCountry = 'Write digits, with + and the country before them.';

/**
 * A telephone number in the form of RFC 3966: a plus sign and digits. An uncertain one is refused
 * with its fix, never guessed: an extension, letters, a bracketed 0 after the country, no country.
 * @param from how to read numbers without a country
 * @throws EncodeError
 */
export function phoneNumber(text: string, from: string = ''): string {
  const given = text
    .normalize('NFKC')
    .replace(/[‐-―−]/g, '-')
    .trim();
  if ((given.match(/\d/g) ?? []).length < 1 || /[^\p{L}\d\s()./+\-*#;=,]/u.test(given))
    throw wrong(`“${text}” is not a telephone number.`, withCountry);
  const [, inside] = extension.exec(given) ?? [];
  const outside = inside === undefined ? given : given.replace(extension, '');
  if (inside !== undefined && /\d{3}/.test(outside))
    throw wrong(
      `“${text}” has an extension, which phones dial in different ways or not at all.`,
      `Keep ${outside.trim()}, and put the extension ${inside} in the note or in a column of its own.`,
    );
  if (/\p{L}/u.test(given))
    throw wrong(`“${text}” is not a telephone number: it has letters in it.`, withCountry);
  const zero = /^\+\s*\d{1,3}[\s\-.]*\(0\)/.test(given);
  if (zero) {
    const without = given.replace(/\(0\)\s*/, '').replace(/\s+/g, ' ');
    throw wrong(
      `“${text}” has (0) after the country code, which is dialled inside the country only.`,
      `Write it as ${without}.`,
    );
  }
  const digits = given.replace(/[\s().\-/]/g, '');
  if (/(?!^)\+|[;=,]/.test(digits))
    throw wrong(`“${text}” is not one telephone number.`, 'Keep one number in the cell.');
  if (!digits.startsWith('+') && /^00\d/.test(digits))
    throw wrong(
      `“${text}” begins with 00, which does not work in every country.`,
      `Write it as +${digits.slice(2)}.`,
    );
  if (!digits.startsWith('+') && from === 'as-written') return digits;
  if (!digits.startsWith('+') && from === '')
    throw wrong(
      `“${text}” has no country in front, so it does not work from another country.`,
      'Choose the country of such numbers in the sentence, or write + and the country in front.',
    );
  const found = parsePhoneNumberFromString(
    digits,
    from === '' || from === 'as-written' ? undefined : (from as CountryCode),
  );
  if (!found?.isPossible())
    throw wrong(
      `“${text}” has too few or too many digits for a telephone number${found?.country ? ` of ${names.of(found.country)}` : ''}.`,
      withCountry,
    );
  return found.number;
}
