import { stockOf } from '../piece/stock';
import type { GroundDescription } from './ground';

/** Sheets, rolls and pages with places for pieces that are laid out here. */
export const stock: GroundDescription = {
  kind: 'stock',
  name: 'label stock',
  about: 'labels, badges, cards, postcards, signs: laid out here',
  called: (piece) => stockOf(piece).name,
  stampsOn: (piece) => piece.elements.flatMap((e) => (e.kind === 'stamp' ? [e.stamp] : [])),
  columnsOn: (piece) =>
    piece.elements.flatMap((e) =>
      e.kind === 'text'
        ? e.parts.flatMap((part) => (part.kind === 'column' ? [part.column] : []))
        : e.kind === 'picture' && e.column
          ? [e.column]
          : [],
    ),
  usualOutput: 'pdf',
};
