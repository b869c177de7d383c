/**
 * Least and most characters of a password. Length is what makes one hard to guess, so nothing else
 * is asked of it (NIST SP 800-63B, 3.1.1).
 */
export const shortestPassword = 12;
export const longestPassword = 200;

/**
 * What is wrong with a password, in words for whoever chose it; undefined where nothing is.
 * @param common whether it is among the commonest
 * @param known what anybody knows of its owner: names, mail address
 */
export function passwordTrouble(
  password: string,
  common: (password: string) => boolean,
  known: readonly string[],
): string | undefined {
  const length = [...password].length;
  if (length < shortestPassword)
    return `Take ${shortestPassword} characters at least; this has ${length}. Three or four words do well.`;
  if (length > longestPassword) return `Take ${longestPassword} characters at most.`;
  const plain = password.toLowerCase();
  if (common(plain)) return 'This is among the commonest passwords. Take one that is yours alone.';
  if (new Set(plain).size < 5)
    return 'This is the same few characters again and again. Take another.';
  if (known.some((word) => word.length > 3 && plain.includes(word.toLowerCase())))
    return 'Your name or address stands in it. Take one that does not tell whose it is.';
  return undefined;
}
