/**
 * Whether a text has the form of an email address: one @ with something before it, a dot inside
 * what comes after it, and no spaces. A first check only; `addressTrouble` checks an address before
 * an email is sent. Its time is proportional to the text, whatever is in it.
 */
export function looksLikeEmail(text: string): boolean {
  const at = text.indexOf('@');
  if (at < 1 || text.includes('@', at + 1) || /\s/.test(text)) return false;
  const domain = text.slice(at + 1);
  const dot = domain.indexOf('.', 1);
  return dot > 0 && dot < domain.length - 1;
}
