/**
 * A text without those characters at its end that are among `which`. Takes time in proportion to
 * the text; a pattern such as `/[ab]+$/` looks again from every character and does not.
 */
export function trimmedEnd(text: string, which: string): string {
  let end = text.length;
  while (end > 0 && which.includes(text[end - 1]!)) end--;
  return text.slice(0, end);
}

/** The same at both ends. */
export function trimmedBy(text: string, which: string): string {
  const rest = trimmedEnd(text, which);
  let start = 0;
  while (start < rest.length && which.includes(rest[start]!)) start++;
  return rest.slice(start);
}
