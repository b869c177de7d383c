/**
 * Characters that people and readers take for one another, each with the one it is weighed as
 * (after Unicode TR 39, cut to what lists hold).
 */
const pairs: Readonly<Record<string, string>> = {
  o: '0', l: '1', i: '1', '|': '1',
  // Cyrillic and Greek letters with the shape of a Latin one
  а: 'a', е: 'e', о: '0', р: 'p', с: 'c', у: 'y', х: 'x', ѕ: 's', і: '1', ј: 'j', к: 'k', м: 'm', т: 't', в: 'b', н: 'h',
  α: 'a', ο: '0', ρ: 'p', ν: 'v', ι: '1', κ: 'k', τ: 't', υ: 'u', χ: 'x', β: 'b', η: 'h', μ: 'm', ε: 'e', ζ: 'z',
  '‐': '-', '‑': '-', '–': '-', '—': '-', '−': '-', '’': "'", '‘': "'", '´': "'", '`': "'",
}; // prettier-ignore

/**
 * The form in which two values are compared by eye: without case, spaces, invisible characters and
 * look-alikes.
 */
export function byEye(value: string): string {
  const plain = withoutInvisible(value).normalize('NFKC').toLowerCase();
  if (/^[a-z0-9\-_./ ]*$/.test(plain) && !/[oli ]/.test(plain)) return plain;
  let out = '';
  for (const c of plain) if (!/\s/u.test(c)) out += pairs[c] ?? c;
  return out;
}

const invisible =
  /[\u00ad\u034f\u061c\u115f\u1160\u17b4\u17b5\u180e\u200b-\u200f\u202a-\u202e\u2060-\u2064\ufeff]/gu;
/** Scripts in which joiners and direction marks belong to the writing. */
const joining = /[\p{sc=Arabic}\p{sc=Hebrew}\p{sc=Devanagari}]/u;

export const holdsInvisible = (value: string): boolean =>
  value.search(invisible) >= 0 && !joining.test(value);
export const withoutInvisible = (value: string): string =>
  joining.test(value) ? value : value.replace(invisible, '');

const fromCyrillicAndGreek: Readonly<Record<string, string>> = {
  А: 'A', В: 'B', Е: 'E', К: 'K', М: 'M', Н: 'H', О: 'O', Р: 'P', С: 'C', Т: 'T', Х: 'X', У: 'Y', І: 'I', Ј: 'J', Ѕ: 'S',
  а: 'a', е: 'e', о: 'o', р: 'p', с: 'c', у: 'y', х: 'x', і: 'i', ј: 'j', ѕ: 's',
  Α: 'A', Β: 'B', Ε: 'E', Ζ: 'Z', Η: 'H', Ι: 'I', Κ: 'K', Μ: 'M', Ν: 'N', Ο: 'O', Ρ: 'P', Τ: 'T', Υ: 'Y', Χ: 'X', ο: 'o', ν: 'v',
}; // prettier-ignore

/**
 * Whether one value mixes Latin letters and look-alikes of another script, as when one letter was
 * typed on another keyboard.
 */
export const mixesScripts = (value: string): boolean =>
  /[A-Za-z0-9]/.test(value) &&
  Array.from(value).some((c) => c in fromCyrillicAndGreek) &&
  latinised(value) !== undefined;

/**
 * The value with its look-alikes written in Latin letters; undefined when letters of the other
 * script would be left.
 */
export function latinised(value: string): string | undefined {
  const out = Array.from(value, (c) => fromCyrillicAndGreek[c] ?? c).join('');
  return /[\p{sc=Cyrillic}\p{sc=Greek}]/u.test(out) ? undefined : out;
}
