import { contentOf } from '../payload/stamp';
import { pictureNameOf, wordsOf } from '../piece/piece';
import { stockOf } from '../piece/stock';
import { wordProblems } from '../piece/weighing';
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
  says: (piece, stamps, values, saying = (stamp) => contentOf(stamp, values)) =>
    piece.elements.map((element) => {
      if (element.kind === 'text') return wordsOf(element, values);
      if (element.kind === 'picture') return pictureNameOf(element, values) ?? null;
      if (element.kind !== 'stamp') return null;
      const stamp = stamps.find((s) => s.id === element.stamp);
      const content = stamp && saying(stamp);
      return content?.state === 'said' ? [stamp!.symbology, content.payload] : null;
    }),
  problems: (piece, stamps, values, fonts, hasPicture, saying) =>
    wordProblems(piece, stockOf(piece), stamps, values, fonts, hasPicture, saying),
  usualOutput: 'pdf',
};
