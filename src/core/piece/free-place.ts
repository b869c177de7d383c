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

/** How much two areas lie over one another, with the room round them, in mm². */
function shared(a: Area, b: Area): number {
  const across = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x) + gap;
  const down = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y) + gap;
  return across > 0 && down > 0 ? across * down : 0;
}

/**
 * Places a new element in the first free space, row by row from the top left of the safe area.
 * Without one, it goes where it covers least.
 * @param size of the new element, in mm
 */
export function freePlace(
  size: { width: number; height: number },
  elements: readonly PieceElement[],
  stock: Pick<Stock, 'piece'>,
  side: Side = 'front',
): { x: number; y: number } {
  const { width, height } = stock.piece;
  const least = safeMarginMm + 1;
  const there = elements.filter((e) => sideOf(e) === side).map(areaOf);
  let best = { x: least, y: least };
  let covered = Infinity;
  for (let y = least; y + size.height <= height - safeMarginMm; y++)
    for (let x = least; x + size.width <= width - safeMarginMm; x++) {
      const over = there.reduce((sum, area) => sum + shared({ ...size, x, y }, area), 0);
      if (over < covered) [best, covered] = [{ x, y }, over];
      if (over === 0) return best;
    }
  return best;
}
