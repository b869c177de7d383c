import { contentOf } from '../../payload/stamp';
import { pictureNameOf, wordsOf } from '../../piece/model';
import { stockOf } from '../../piece/stock';
import { wordProblems } from '../../piece/weighing';
import type { GroundJudging } from './judging';

/** The contents of a piece on label stock, and its problems. */
export const stock: GroundJudging = {
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
};
