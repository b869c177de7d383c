import type { FontBook } from '../artwork/fonts';
import type { Values } from '../records/columns';
import type { Part } from '../records/parts';
import { captionStyle, captionWords } from './caption';
import { fitText, type FittedText } from './text';

/** Between the code and its caption, in mm. */
const gapMm = 0.6;

/** A caption below a code, `top` and `width` in mm; undefined if it is empty. */
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
