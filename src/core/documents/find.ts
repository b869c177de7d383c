import type { Column, Values } from '../records/columns';
import type { DocumentPlace } from '../piece/ground';
import { formsOf } from './forms';

/** The text of one part of a document, paragraph by paragraph. */
export interface PartText {
  part: string;
  paragraphs: readonly string[];
  /** Numbers of the parts that are link targets, not text. */
  leads?: readonly number[];
}

const wordLike = /[\p{L}\p{N}\p{M}]/u;
/** Whether words are separate, and not a part of longer ones. */
function standsAlone(text: string, from: number, to: number): boolean {
  const before = from > 0 && wordLike.test(text[from - 1]!) && wordLike.test(text[from]!);
  const after = to < text.length && wordLike.test(text[to]!) && wordLike.test(text[to - 1]!);
  return !before && !after;
}

/** All kinds of space count as equal. */
const spaced = (text: string): string => text.replace(/[\s\u00a0\u202f]/g, ' ');

/** Where words occur separately in a text, both with plain spaces. */
function* placesOf(text: string, words: string): Generator<number> {
  for (let at = text.indexOf(words); at >= 0; at = text.indexOf(words, at + 1))
    if (standsAlone(text, at, at + words.length)) yield at;
}

/**
 * Whether a single word is next to another with a capital, as “Marram” is in “Marram Bay”: then it
 * is hardly meant alone.
 */
function isPartOfName(text: string, from: number, to: number): boolean {
  if (/\s/.test(text.slice(from, to)) || !/^\p{Lu}/u.test(text.slice(from, to))) return false;
  return (
    /^ \p{Lu}/u.test(text.slice(to, to + 2)) || /\p{Lu}[\p{L}’'-]* $/u.test(text.slice(0, from))
  );
}

/** A value in the form in which it is compared when the record of an example is looked for. */
const plainly = (text: string): string =>
  text
    .normalize('NFKC')
    .toLocaleLowerCase('en')
    .replace(/[^\p{L}\p{N}\p{M}]+/gu, ' ')
    .trim();

/** A document with more than these is not a letter to one person. */
const mostPlaces = 500;

/** Longest value that is looked for, in words. */
const mostWords = 8;

/**
 * Weighs how many of a record's values are in a document: by their length, the key twice, and
 * nothing for very short ones. It runs for all records of a list, so each word sequence of the
 * document is put into a set once.
 */
export function weigher(
  texts: readonly PartText[],
  columns: readonly Column[],
): (values: Values) => number {
  const said = new Set<string>();
  for (const { paragraphs } of texts)
    for (const paragraph of paragraphs) {
      const words = plainly(paragraph).split(' ');
      for (let from = 0; from < words.length; from++)
        for (let to = from + 1; to <= Math.min(words.length, from + mostWords); to++)
          said.add(words.slice(from, to).join(' '));
    }
  return (values) => {
    let weight = 0;
    for (const { id, role } of columns) {
      const value = plainly(values[id] ?? '');
      if (value.length < 3 || !said.has(value)) continue;
      weight += Math.min(value.length, 24) * (role === 'key' ? 2 : 1);
    }
    return weight;
  };
}

interface Found extends Pick<DocumentPlace, 'part' | 'paragraph' | 'from' | 'to' | 'form'> {
  column: string;
  sure: boolean;
}

/**
 * Finds the values of a record in a document. Of two that overlap, the more telling one counts: a
 * value as it is before another form of it, and longer words before shorter ones. If several
 * columns have the same value, a person decides which is meant.
 */
export function findPlaces(
  texts: readonly PartText[],
  columns: readonly Column[],
  values: Values,
): DocumentPlace[] {
  const found: Found[] = [];
  const plain = texts.map(({ part, paragraphs }) => ({ part, paragraphs: paragraphs.map(spaced) }));
  for (const column of columns)
    for (const { text, form, sure } of formsOf(values[column.id] ?? '', column.role))
      for (const { part, paragraphs } of plain)
        for (const [paragraph, words] of paragraphs.entries())
          for (const from of placesOf(words, spaced(text)))
            found.push({
              part,
              paragraph,
              from,
              to: from + text.length,
              form,
              column: column.id,
              sure:
                sure && (column.role === 'key' || !isPartOfName(words, from, from + text.length)),
            });
  found.sort((a, b) => Number(b.sure) - Number(a.sure) || b.to - b.from - (a.to - a.from));
  const taken: Found[] = [];
  const inParagraph = new Map<string, Found[]>();
  for (const one of found) {
    const key = `${one.paragraph} ${one.part}`;
    const there = inParagraph.get(key) ?? [];
    if (there.some((t) => t.from < one.to && one.from < t.to)) continue;
    inParagraph.set(key, [...there, one]);
    taken.push(one);
    if (taken.length === mostPlaces) break;
  }
  const order = new Map(texts.map(({ part }, at) => [part, at]));
  taken.sort(
    (a, b) =>
      order.get(a.part)! - order.get(b.part)! || a.paragraph - b.paragraph || a.from - b.from,
  );
  const same = new Map<string, string[]>();
  for (const one of found) {
    const key = spotOf(one);
    const columnsThere = same.get(key) ?? [];
    if (!columnsThere.includes(one.column)) same.set(key, [...columnsThere, one.column]);
  }
  return taken.map(({ column, sure, form, ...at }, i) => ({
    id: `found-${i + 1}`,
    ...at,
    example: texts.find((t) => t.part === at.part)!.paragraphs[at.paragraph]!.slice(at.from, at.to),
    parts: [{ kind: 'column', column }],
    ...(form ? { form } : {}),
    blank: 'words',
    ...askedOf(sure, same.get(spotOf({ ...at, sure }))!),
    ...leadsAt(texts, at.part, at.paragraph),
  }));
}

/** Of a place in a link, the whole address of the example. */
function leadsAt(
  texts: readonly PartText[],
  part: string,
  paragraph: number,
): Pick<DocumentPlace, 'leads'> {
  const text = texts.find((t) => t.part === part);
  return text?.leads?.includes(paragraph) ? { leads: text.paragraphs[paragraph]! } : {};
}

/** By which two that were found are of the very same words, and as certain. */
const spotOf = ({
  part,
  paragraph,
  from,
  to,
  sure,
}: Pick<Found, 'part' | 'paragraph' | 'from' | 'to' | 'sure'>): string =>
  [paragraph, from, to, sure, part].join(' ');

/** The question about a place: whether it is meant, or which of several columns is. */
const askedOf = (
  sure: boolean,
  columns: readonly string[],
): Pick<DocumentPlace, 'likely' | 'among'> =>
  columns.length > 1 ? { likely: true, among: [...columns] } : sure ? {} : { likely: true };
