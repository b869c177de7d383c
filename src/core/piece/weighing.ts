import { contentOf, type Saying, type Stamp } from '../payload/stamp';
import type { Values } from '../records/columns';
import { symbologies } from '../symbology';
import type { FontBook } from '../artwork/fonts';
import { sideOf, sidesOf, type Piece, type PictureElement, type StampElement } from './model';
import {
  checkBleed,
  checkClear,
  coverShape,
  encodeStamp,
  fromEdge,
  leastFromEdgeMm,
  meet,
  nothingMade,
  placeStamp,
  weighWords,
  type MadePiece,
  type PieceProblem,
} from './piece';
import { pictureNameOf } from './model';
import type { Stock } from './stock';

/**
 * The problems of a record's piece, drawing as few codes as possible: quick enough for whole lists.
 * A code is made only if its size or its content leaves a doubt whether its modules are large
 * enough, or something may overlap it.
 */
export function wordProblems(
  piece: Piece,
  stock: Stock,
  stamps: readonly Stamp[],
  values: Values,
  fonts: FontBook,
  hasPicture: (name: string) => boolean = () => false,
  saying: Saying = (stamp) => contentOf(stamp, values),
): PieceProblem[] {
  return sidesOf(piece).flatMap((side) => {
    const made = nothingMade();
    const elements = piece.elements.filter((e) => sideOf(e) === side);
    for (const element of elements)
      if (element.kind === 'text') weighWords(element, piece.han, stock, values, fonts, made);
      else if (element.kind === 'picture') weighPicture(element, stock, values, hasPicture, made);
      else if (element.kind !== 'stamp') {
        coverShape(element, made);
        checkBleed(element.id, element.x, element.y, element.width, element.height, stock, made);
      }
    for (const [at, element] of elements.entries())
      if (element.kind === 'stamp')
        weighStamp(
          element,
          new Set(elements.slice(at + 1).map((e) => e.id)),
          stock,
          stamps,
          values,
          made,
          saying,
        );
    return made.problems;
  });
}

function weighPicture(
  element: PictureElement,
  stock: Stock,
  values: Values,
  hasPicture: (name: string) => boolean,
  made: MadePiece,
): void {
  const { id, x, y, width, height } = element;
  const name = pictureNameOf(element, values);
  checkBleed(id, x, y, width, height, stock, made);
  if (name && !hasPicture(name))
    made.problems.push({ element: id, kind: 'picture', reason: `has no picture called ${name}` });
  else if (name !== '' && (name || element.picture)) made.covered.push({ id, x, y, width, height });
}

/** @param later ids of the elements drawn after it */
function weighStamp(
  element: StampElement,
  later: ReadonlySet<string>,
  stock: Stock,
  stamps: readonly Stamp[],
  values: Values,
  made: MadePiece,
  saying: Saying,
): void {
  const stamp = stamps.find((s) => s.id === element.stamp);
  const content = stamp && saying(stamp);
  if (!stamp || content?.state !== 'said') return;
  const square = { x: element.x, y: element.y, width: element.sizeMm, height: element.sizeMm };
  const over = made.covered.filter((area) => later.has(area.id) && meet(area, square));
  const bars = symbologies[stamp.symbology].linear;
  // the code is never larger than its square
  if (
    !bars &&
    over.length === 0 &&
    element.sizeMm >= 15 &&
    content.payload.length <= 90 &&
    fromEdge(square, stock) >= leastFromEdgeMm
  )
    return;
  const alone = nothingMade();
  placeStamp(element, stock, stamps, values, alone, encodeStamp);
  alone.covered.push(...over);
  checkClear(alone);
  // that there is no code is said of the stamp already
  made.problems.push(...alone.problems.filter((p) => p.kind !== 'no-code'));
}
