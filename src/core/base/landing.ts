/**
 * How a value has to be encoded at its position in an address (RFC 3986, and the form encoding of
 * the HTML standard).
 */
export type Spaces = 'percent' | 'plus';

export interface Landing {
  where: 'start' | 'path' | 'query' | 'fragment';
  /** How many times it is encoded: once more for each address that it is inside of. */
  levels: number;
}

/**
 * The position of the next value, after the part of an address written so far. An address inside an
 * address is followed inwards, one encoding at a time, to the part of it that is still being
 * written.
 */
export function landingAfter(before: string): Landing {
  if (!before.includes(':')) return { where: 'start', levels: 0 };
  const fragment = before.indexOf('#');
  const query = before.indexOf('?');
  const where = fragment >= 0 ? 'fragment' : query >= 0 ? 'query' : 'path';
  const value =
    where === 'query'
      ? before.slice(Math.max(before.lastIndexOf('='), before.lastIndexOf('&')) + 1)
      : where === 'fragment'
        ? before.slice(fragment + 1)
        : before.slice(before.lastIndexOf('/') + 1);
  return { where, levels: 1 + levelsInside(value) };
}

/** How many addresses a value that is still being written has opened inside itself. */
function levelsInside(value: string): number {
  if (!/%(?:25)*3a%(?:25)*2f%(?:25)*2f/i.test(value)) return 0;
  const inner = decodedOnce(value);
  if (!inner.includes('://')) return 1 + levelsInside(inner);
  return landingAfter(inner).levels;
}

/**
 * Removes one level of percent encoding from ASCII characters; that is enough to see the structure.
 */
const decodedOnce = (text: string): string =>
  text.replace(/%([0-7][0-9a-f])/gi, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)));

/**
 * Encodes a value for its position. A plus sign for a space is for queries only, and only on the
 * outermost level.
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
