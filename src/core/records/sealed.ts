/**
 * A value that must not lie open stands, where it is not to be seen, as a token: of which record it
 * is, and a tag by which two states of it are told apart. The characters round it are private ones
 * of Unicode, which no list holds by chance.
 */
const [opens, closes] = ['\ue010', '\ue011'];

export const sealedValue = (record: number, tag: string): string =>
  `${opens}${record}.${tag}${closes}`;

/** Among a record's values, where no column is: which record it is. */
export const tokenColumn = '';

const token = new RegExp(`${opens}(\\d+)\\.[0-9a-z]*${closes}`, 'g');

export const isSealed = (value: string): boolean =>
  value.startsWith(opens) && value.endsWith(closes);

/** The record of the first sealed value among some; undefined when none is sealed. */
export function sealedRecord(values: Iterable<string>): number | undefined {
  for (const value of values)
    if (isSealed(value)) return Number(value.slice(1, value.indexOf('.')));
  return undefined;
}

export const dots = '••••••';

/** A text as it may be shown: what is sealed in it as dots. */
export const shown = (text: string): string =>
  text.includes(opens) ? text.replace(token, dots) : text;
