/**
 * Least and most characters of a password. Length is what makes one hard to guess, so nothing else
 * is asked of it (NIST SP 800-63B, 3.1.1).
 */
export const shortestPassword = 12;
export const longestPassword = 200;

/**
 * The problem of a password, in words for the person who chose it; undefined if there is none.
 * @param common whether it is among the commonest
 * @param known what anybody knows of its owner: names, email address
 */
export function passwordTrouble(
  password: string,
  common: (password: string) => boolean,
  known: readonly string[],
): string | undefined {
  const length = [...password].length;
  if (length < shortestPassword)
    return `A password needs at least ${shortestPassword} characters. This one has ${length}. Three or four words make a good password.`;
  if (length > longestPassword) return `A password can have at most ${longestPassword} characters.`;
  const plain = password.toLowerCase();
  if (common(plain)) return 'This password is too common. Choose another.';
  if (new Set(plain).size < 5)
    return 'This password repeats the same few characters. Choose another.';
  if (known.some((word) => word.length > 3 && plain.includes(word.toLowerCase())))
    return 'It contains your name or email address. Choose another.';
  return undefined;
}
