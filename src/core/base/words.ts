const rules = new Intl.PluralRules('en');

/**
 * A count with its words in the right number: `1 record`, `1,200 records`. Without a plural an s is
 * added.
 */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n.toLocaleString('en')} ${plural(n, one, many)}`;
}

/** The words alone, in the right number. */
export const plural = (n: number, one: string, many = `${one}s`): string =>
  rules.select(n) === 'one' ? one : many;

const list = new Intl.ListFormat('en', { type: 'conjunction' });

/** Several things after one another: `A4, A5 and Letter`. */
export const listed = (words: readonly string[]): string =>
  list.format(words).replace(/, and /, ' and ');

/** A length in mm in words: to a hundredth, without the noise of binary fractions. */
export const mmWords = (mm: number): string => `${Math.round(mm * 100) / 100} mm`;
