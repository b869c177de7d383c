import { trimmedBy, trimmedEnd } from '../base/trim';

/** Names that some systems keep for themselves. */
const kept = /^(con|prn|aux|nul|com\d|lpt\d)$/i;
const longest = 100;

/**
 * A name that every file system takes: letters and digits of any script, spaces, and a few signs;
 * never empty.
 */
export function safeName(text: string, otherwise = 'unnamed'): string {
  const clean = text
    .normalize('NFC')
    .replace(/[\p{Cc}\p{Cf}]/gu, '')
    .replace(/[^\p{L}\p{M}\p{N} ._()+,=@-]+/gu, '-')
    .replace(/\s+/g, ' ');
  const name = trimmedEnd(trimmedBy(clean, ' .-').slice(0, longest), ' .-');
  if (name === '') return otherwise;
  return kept.test(name) ? `${name}-` : name;
}

/**
 * Safe names that are also unlike each other, on systems that ignore case too: the second of a name
 * gets -2, and so on.
 */
export class FileNames {
  private readonly taken = new Set<string>();

  take(text: string, otherwise?: string): string {
    const base = safeName(text, otherwise);
    let name = base;
    for (let n = 2; this.taken.has(name.toLowerCase()); n++) name = `${base}-${n}`;
    this.taken.add(name.toLowerCase());
    return name;
  }
}

/**
 * A name that no other thing of its kind has: the name itself, or the first of `name (2)`, `name
 * (3)` and so on that is free.
 */
export function freeName(name: string, taken: Iterable<string>): string {
  const known = new Set([...taken].map((t) => t.toLowerCase()));
  if (!known.has(name.toLowerCase())) return name;
  let n = 2;
  while (known.has(`${name} (${n})`.toLowerCase())) n++;
  return `${name} (${n})`;
}
