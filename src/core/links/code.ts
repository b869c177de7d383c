/**
 * Capitals and digits without vowels, so that no words occur, and without 0, 1 and L, which are
 * confused with others: 28, all of them in the alphanumeric mode of a QR code (ISO/IEC 18004, table
 * 5).
 */
export const linkAlphabet = '23456789BCDFGHJKMNPQRSTVWXYZ';

/** Characters before the check character: for links for anyone, and for links of one person. */
const linkLengths = { anyone: 8, one: 12 } as const;
export type LinkFor = keyof typeof linkLengths;

/**
 * A prime above the size of the alphabet and any place in a code: every wrong character and every
 * two swapped ones are found.
 */
const modulus = 29;

/**
 * The check character of the characters before it; undefined if it would not be in the alphabet, so
 * that such a code is never used.
 */
function checkOf(body: string): string | undefined {
  let sum = 0;
  for (let i = 0; i < body.length; i++) sum += (i + 1) * linkAlphabet.indexOf(body[i]!);
  return linkAlphabet[sum % modulus];
}

/**
 * A new code with its check character: 9 or 13 characters.
 * @param below returns a random whole number from 0 up to, and without, its argument, which nobody
 *   can guess
 */
export function newLinkCode(of: LinkFor, below: (most: number) => number): string {
  for (;;) {
    const body = Array.from(
      { length: linkLengths[of] },
      () => linkAlphabet[below(linkAlphabet.length)],
    ).join('');
    const check = checkOf(body);
    if (check !== undefined) return body + check;
  }
}

const shape = new RegExp(`^[${linkAlphabet}]{9}([${linkAlphabet}]{4})?$`);

/**
 * A code as it is kept, out of one that was typed: in small letters, or with hyphens and blanks.
 */
export const tidyCode = (typed: string): string => typed.toUpperCase().replace(/[\s-]/g, '');

/** Whether a stored code can be one of ours: a mistyped one cannot. */
export const isLinkCode = (code: string): boolean =>
  shape.test(code) && checkOf(code.slice(0, -1)) === code.at(-1);

/** A code as it is read aloud: in groups of four, the check character with the last. */
export function spokenCode(code: string): string {
  const groups = code.slice(0, -1).match(/.{1,4}/g) ?? [];
  return groups.join('-') + code.slice(-1);
}

/** The code in the address of a link; undefined if there is none. */
export function codeIn(address: string): string | undefined {
  const code = address.slice(address.lastIndexOf('/') + 1);
  return isLinkCode(code) ? code : undefined;
}

const picturePath = /\/c\/([A-Za-z0-9_-]{24})\.png$/;

/** The address of the picture of a record's code. @param token 24 random characters */
export const pictureAddress = (base: string, token: string): string => `${base}/c/${token}.png`;

/** The token in the address of a picture; undefined if there is none. */
export const pictureIn = (address: string): string | undefined => picturePath.exec(address)?.[1];

const pagePath = /\/r\/([A-Za-z0-9_-]{22})$/;

/** The address of a record's own page. @param id 22 random characters */
export const pageAddress = (base: string, id: string): string => `${base}/r/${id}`;

/** The id in the address of a page; undefined if there is none. */
export const pageIn = (address: string): string | undefined => pagePath.exec(address)?.[1];

/**
 * The address of a link, in capitals whole: scheme and host mean the same in either case (RFC 3986,
 * 6.2.2.1), and a QR code needs less room for capitals.
 * @param base an origin, such as `https://go.example`
 */
export const linkAddress = (base: string, code: string): string => `${base.toUpperCase()}/${code}`;
