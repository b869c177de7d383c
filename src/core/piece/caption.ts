import type { Values } from '../records/columns';
import type { Part } from '../records/parts';
import type { TextStyle } from './text';

/** Height that a caption takes below its code, in mm. */
export const captionMm = 7.5;
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
