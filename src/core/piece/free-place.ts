import { safeMarginMm, sideOf, type PieceElement, type Side } from './model';
import type { Stock } from './stock';

/** An upright rectangle in mm, from the top left of the piece. */
interface Area {
  x: number;
  y: number;
  width: number;
  height: number;
}

const mmPerPoint = 25.4 / 72;
/** Room that is left around each thing, in mm. */
const gap = 1;

/** About what an element takes up; of words, their lines at full size. */
export function areaOf(element: PieceElement): Area {
  const { x, y } = element;
  if (element.kind === 'stamp') return { x, y, width: element.sizeMm, height: element.sizeMm };
  if (element.kind === 'text')
    return {
      x,
      y,
      width: element.width,
      height: element.lines * element.sizePt * mmPerPoint * 1.25,
    };
  return { x, y, width: element.width, height: element.height };
}

const meet = (a: Area, b: Area): boolean =>
  a.x < b.x + b.width + gap &&
  b.x < a.x + a.width + gap &&
  a.y < b.y + b.height + gap &&
  b.y < a.y + a.height + gap;

/**
 * Puts something new where nothing is yet: row by row from the top left of the safe area. Where
 * there is no such place it lies a little beside the last thing, so that it is seen.
 * @param size of the new thing, in mm
 */
export function freePlace(
  size: { width: number; height: number },
  elements: readonly PieceElement[],
  stock: Pick<Stock, 'piece'>,
  side: Side = 'front',
): { x: number; y: number } {
  const { width, height } = stock.piece;
  const least = safeMarginMm + 1;
  // a box is a ground for other things, so what lies in it takes up its place and not the box
  const there = elements.filter((e) => sideOf(e) === side && e.kind !== 'box').map(areaOf);
  for (let y = least; y + size.height <= height - safeMarginMm; y++)
    for (let x = least; x + size.width <= width - safeMarginMm; x++)
      if (!there.some((area) => meet({ ...size, x, y }, area))) return { x, y };
  const step = 2 * (there.length % 8);
  return {
    x: Math.max(0, Math.min(least + step, width - size.width)),
    y: Math.max(0, Math.min(least + step, height - size.height)),
  };
}
