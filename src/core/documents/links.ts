import { landed, landingAfter } from '../base/landing';
import { writtenAddress } from '../payload/address';
import { EncodeError } from '../symbology/types';

/** An address with readable letters, if they can be encoded again the same way (RFC 3986). */
export function readable(address: string): string {
  try {
    const read = decodeURI(address);
    return encodeURI(read) === address ? read : address;
  } catch {
    return address;
  }
}

interface InLink {
  from: number;
  to: number;
  words: string;
}

/**
 * The target of an example's link for a record: the fixed parts of its address, and each value
 * encoded for its place. A value at the beginning is an address itself and stays one, whatever
 * comes after it.
 *
 * @param text the example's address, as {@link readable} gives it
 * @returns undefined if that is not an address a link may lead to
 */
export function ledTo(text: string, edits: readonly InLink[]): string | undefined {
  // an address that could not be read otherwise is as it was written
  const kept = /%[0-9a-f]{2}/i.test(text) ? (part: string) => part : encodeURI;
  let to = '';
  let at = 0;
  for (const one of [...edits].sort((a, b) => a.from - b.from)) {
    to += kept(text.slice(at, one.from));
    const words = one.words.trim();
    to += /^(mailto|tel|sms|geo):$/i.test(to)
      ? encodeURI(words.replace(/\s+/g, ''))
      : landed(words, landingAfter(to), 'percent');
    at = one.to;
  }
  to += kept(text.slice(at));
  if (!/^(https?:\/\/[^/?#\s]|mailto:.|tel:.|sms:.|geo:.)/i.test(to)) return undefined;
  try {
    return writtenAddress(to);
  } catch (error) {
    if (error instanceof EncodeError) return undefined;
    throw error;
  }
}
