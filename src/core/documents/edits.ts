import type { DocumentPlace } from '../piece/ground';
import type { Values } from '../records/columns';
import { DocumentError } from './error';
import { wordsAt } from './words';

/** Stands in a paragraph's text where a code comes; no text has it otherwise. */
export const object = '\ufffc';

/** Words that replace others of a paragraph, with the drawings of their codes. */
export interface TextEdit<D> {
  from: number;
  to: number;
  words: string;
  drawing?: D;
}
interface Line<P> {
  text: string;
  /** The same paragraph again, in another form. */
  twin?: P;
}

export function add<P, D>(edits: Map<P, TextEdit<D>[]>, paragraph: P, edit: TextEdit<D>): void {
  edits.set(paragraph, [...(edits.get(paragraph) ?? []), edit]);
}

/** Adds the edit of a place to its paragraph. */
export function plan<P extends Line<P>, D>(
  place: DocumentPlace,
  values: Values,
  paragraph: P | undefined,
  edits: Map<P, TextEdit<D>[]>,
  lines: P[],
): void {
  if (!paragraph || place.to > paragraph.text.length)
    throw new DocumentError('This is not the document in which the places were marked.');
  const words = wordsAt(place, values)?.replaceAll(object, '');
  for (const target of paragraph.twin ? [paragraph, paragraph.twin] : [paragraph]) {
    if (words !== undefined) add(edits, target, { from: place.from, to: place.to, words });
    else if (place.blank !== 'line')
      add(edits, target, { ...withoutSpace(target.text, place), words: '' });
    else if (!target.text.includes('\n')) lines.push(target);
    else add(edits, target, { ...lineOf(target.text, place), words: '' });
  }
}

/**
 * Words that are left out take a space with them, so that none is left before a comma or at the
 * beginning.
 */
function withoutSpace(text: string, { from, to }: { from: number; to: number }) {
  if (/\s/.test(text[from - 1] ?? '') && (to === text.length || /[\s,.;:!?)]/.test(text[to]!)))
    return { from: from - 1, to };
  if (from === 0 && /\s/.test(text[to] ?? '')) return { from, to: to + 1 };
  return { from, to };
}

/** The line in which a place stands, with one of the breaks beside it. */
function lineOf(text: string, { from, to }: { from: number; to: number }) {
  const start = text.lastIndexOf('\n', from - 1);
  const end = text.indexOf('\n', to);
  if (end >= 0) return { from: start + 1, to: end + 1 };
  return { from: Math.max(0, start), to: text.length };
}
