/** A key in the form in which documents are compared: letters and digits only, in lower case. */
export const keyOf = (text: string): string =>
  text
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '');

const mostKeys = 20_000;

/**
 * Everything in a text that may be a key: words, and sequences of up to `together` words.
 * @param numbered only with a digit, for whole pages of text
 */
export function keysIn(text: string, together: number, numbered = false): string[] {
  const words = text
    .normalize('NFKC')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
  const keys = new Set<string>();
  for (let from = 0; from < words.length && keys.size < mostKeys; from++)
    for (let to = from + 1; to <= Math.min(words.length, from + together); to++) {
      const key = words.slice(from, to).join('');
      if (key.length >= 2 && key.length <= 60 && (!numbered || /\p{N}/u.test(key))) keys.add(key);
    }
  return [...keys];
}
