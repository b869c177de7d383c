import type { FontBook } from '../artwork/fonts';
import type { Values } from '../records/columns';
import type { Part } from '../records/parts';
import { fitText, type FittedText, type TextStyle } from './text';

/** Height that a caption takes below its code, in mm. */
export const captionMm = 7.5;
/** Between the code and its caption, in mm. */
const gapMm = 0.6;

export const captionStyle: TextStyle = {
  font: 'atkinson',
  sizePt: 8,
  minPt: 6,
  lines: 2,
  align: 'centre',
  colour: '#000000',
};

/** What a caption says for a record. */
export const captionWords = (parts: readonly Part[] | undefined, values: Values): string =>
  (parts ?? [])
    .map((part) => (part.kind === 'text' ? part.text : (values[part.column] ?? '')))
    .join('')
    .trim();

/** A caption set below a code, `top` and `width` in mm; undefined where it says nothing. */
export function fitCaption(
  parts: readonly Part[] | undefined,
  values: Values,
  top: number,
  width: number,
  fonts: FontBook,
): FittedText | undefined {
  const words = captionWords(parts, values);
  return words === '' ? undefined : fitText(words, captionStyle, 0, top + gapMm, width, fonts);
}
