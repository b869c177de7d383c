/**
 * Where it must not be seen, a secret value is replaced by a token: its record, and a tag that
 * tells two states of it apart. The characters around it are private ones of Unicode, which no list
 * contains by chance.
 */
const [opens, closes] = ['\ue010', '\ue011'];

export const sealedValue = (record: number, tag: string): string =>
  `${opens}${record}.${tag}${closes}`;

/** Among a record's values, in place of a column: the record's number. */
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

/** A text for display: sealed parts as dots. */
export const shown = (text: string): string =>
  text.includes(opens) ? text.replace(token, dots) : text;
