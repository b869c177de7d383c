/**
 * How a value has to be written where it lands in an address (RFC 3986, and the form encoding of
 * the HTML standard).
 */
export type Spaces = 'percent' | 'plus';

export interface Landing {
  where: 'start' | 'path' | 'query' | 'fragment';
  /** How many times it is encoded: once more for each address that it stands inside of. */
  levels: number;
}

/** Where the next value lands, after the part of an address written so far. */
export function landingAfter(before: string): Landing {
  if (!before.includes(':')) return { where: 'start', levels: 0 };
  const fragment = before.indexOf('#');
  const query = before.indexOf('?');
  const where = fragment >= 0 ? 'fragment' : query >= 0 ? 'query' : 'path';
  // within the value being written, an encoded "://" opens an inner address, a doubly encoded one
  // the next
  const value =
    where === 'query'
      ? before.slice(Math.max(before.lastIndexOf('='), before.lastIndexOf('&')) + 1)
      : before;
  const levels = 1 + (/%3a%2f%2f/i.test(value) ? 1 : 0) + (/%253a%252f%252f/i.test(value) ? 2 : 0);
  return { where, levels };
}

/**
 * A value as it is written where it lands. A plus sign for a space is for queries alone, and only
 * on the outermost level.
 */
export function landed(value: string, { where, levels }: Landing, spaces: Spaces): string {
  let out = value;
  for (let level = 0; level < levels; level++) {
    out = encodeURIComponent(out).replace(
      /[!'()*]/g,
      (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`,
    );
    if (spaces === 'plus' && where === 'query' && level === 0) out = out.replaceAll('%20', '+');
  }
  return out;
}
