import type { Column, Values } from '../records/columns';

/** A value of the example's record that is in a document made for another. */
export interface LeftOver {
  column: string;
  value: string;
}

/** Shorter values are in too many words by chance. */
const leastLetters = 4;
const mostTold = 20;

/** A text as it is compared: every kind of space as one, entities and escapes taken off. */
function plainly(text: string): string {
  const unescaped = text
    .replace(/&(amp|lt|gt|quot|apos|#\d+);/g, (entity, name: string) =>
      name.startsWith('#')
        ? String.fromCodePoint(Math.min(Number(name.slice(1)), 0x10ffff))
        : ({ amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" }[name] ?? entity),
    )
    .replace(/%([2-7][0-9a-f])/gi, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)));
  return unescaped.replace(/[\s\u00a0\u202f]+/g, ' ').toLocaleLowerCase('en');
}

/**
 * The values of the example's record that are still in another record's document: in its text, a
 * link, a title, or its metadata. Values that both records share do not count.
 * @param texts everything in the finished file, as text
 */
export function leftOver(
  texts: readonly string[],
  columns: readonly Column[],
  example: Values,
  other: Values,
): LeftOver[] {
  const file = texts.map(plainly).join('\n');
  const own = Object.values(other).map(plainly);
  const told: LeftOver[] = [];
  for (const { id } of columns) {
    const value = (example[id] ?? '').trim();
    const plain = plainly(value);
    if (plain.length < leastLetters || told.some((one) => one.value === value)) continue;
    if (own.some((text) => text.includes(plain)) || !file.includes(plain)) continue;
    told.push({ column: id, value });
    if (told.length === mostTold) break;
  }
  return told;
}
