import type { ElementBoxMm } from './aligning';
import { linesAcross, linesDown, nearest, type Guide } from './snapping';
import type { Stamp } from '../payload/stamp';
import { symbologies } from '../symbology';
import type { PieceElement, StampElement } from './model';
import type { Stock } from './stock';

/** A grip at a corner or an edge of an element. */
export type Grip =
  'top-left' | 'top-right' | 'bottom-left' | 'bottom-right' | 'left' | 'right' | 'top' | 'bottom';

const corners: readonly Grip[] = ['top-left', 'top-right', 'bottom-left', 'bottom-right'];

/**
 * The grips of an element: text at the ends of its lines, a rule at its ends, the rest at their
 * corners.
 */
export function gripsOf(element: PieceElement): readonly Grip[] {
  if (element.locked) return [];
  if (element.kind === 'text') return ['left', 'right'];
  if (element.kind === 'rule')
    return element.width >= element.height ? ['left', 'right'] : ['top', 'bottom'];
  return corners;
}

/** Least side that pulling leaves, in mm. */
const leastMm = 1;

interface Surroundings {
  others: readonly ElementBoxMm[];
  piece: { width: number; height: number };
  /** Margin that is kept free, in mm. */
  safe: number;
  /** Whether edges are drawn to what lies near. */
  draws: boolean;
}

/**
 * Resizes a box by a grip by so many mm; the opposite edges stay, and moved ones snap to lines
 * nearby.
 * @param keeps whether it keeps its proportion, as a code must
 */
export function pulled(
  box: ElementBoxMm,
  grip: Grip,
  dx: number,
  dy: number,
  { others, piece, safe, draws }: Surroundings,
  keeps = false,
): { box: ElementBoxMm; guides: Guide[] } {
  const guides: Guide[] = [];
  const drawn = (axis: 'x' | 'y', at: number): number => {
    const lines = axis === 'x' ? linesAcross(others, piece, safe) : linesDown(others, piece, safe);
    const near = draws ? nearest([at], lines) : undefined;
    if (near) guides.push({ axis, at: near.at });
    return at + (near?.shift ?? 0);
  };
  let [left, top, right, bottom] = [box.x, box.y, box.x + box.width, box.y + box.height];
  if (keeps) {
    // the direction in which it was pulled further decides; the other side follows
    const across = grip.includes('left') ? -dx : dx;
    const down = grip.includes('top') ? -dy : dy;
    const byWidth = Math.abs(across) / box.width >= Math.abs(down) / box.height;
    const edge = byWidth
      ? drawn('x', grip.includes('left') ? left + dx : right + dx)
      : drawn('y', grip.includes('top') ? top + dy : bottom + dy);
    const side = byWidth
      ? grip.includes('left')
        ? right - edge
        : edge - left
      : grip.includes('top')
        ? bottom - edge
        : edge - top;
    const scale = Math.max(
      leastMm / Math.min(box.width, box.height),
      side / (byWidth ? box.width : box.height),
    );
    const [width, height] = [box.width * scale, box.height * scale];
    return {
      box: {
        ...box,
        width,
        height,
        x: grip.includes('left') ? right - width : left,
        y: grip.includes('top') ? bottom - height : top,
      },
      guides,
    };
  }
  if (grip.includes('left')) left = Math.min(right - leastMm, drawn('x', left + dx));
  if (grip.includes('right')) right = Math.max(left + leastMm, drawn('x', right + dx));
  if (grip.includes('top')) top = Math.min(bottom - leastMm, drawn('y', top + dy));
  if (grip.includes('bottom')) bottom = Math.max(top + leastMm, drawn('y', bottom + dy));
  return { box: { ...box, x: left, y: top, width: right - left, height: bottom - top }, guides };
}

export const tenth = (mm: number): number => Math.round(mm * 10) / 10;

/**
 * An element after its box was resized from `before` to `after`. A code uses whole dots, so it may
 * be a little smaller; text keeps its font size and gets another width.
 */
export function withBox(
  element: PieceElement,
  before: ElementBoxMm,
  after: ElementBoxMm,
): PieceElement {
  if (element.kind === 'stamp') {
    const sizeMm = Math.min(300, Math.max(4, tenth(element.sizeMm * (after.width / before.width))));
    // the code lies in the middle of its square
    return {
      ...element,
      sizeMm,
      x: tenth(after.x + after.width / 2 - sizeMm / 2),
      y: tenth(after.y + after.height / 2 - sizeMm / 2),
    };
  }
  if (element.kind === 'text')
    return { ...element, x: tenth(after.x), width: Math.max(2, tenth(after.width)) };
  if (element.kind === 'rule')
    return element.width >= element.height
      ? { ...element, x: tenth(after.x), width: tenth(after.width) }
      : { ...element, y: tenth(after.y), height: tenth(after.height) };
  return {
    ...element,
    x: tenth(after.x),
    y: tenth(after.y),
    width: tenth(after.width),
    height: tenth(after.height),
  };
}

/** The greatest width of a code on a piece, in mm, by its rotation. */
export function widestCode(
  stock: Pick<Stock, 'piece'>,
  { symbology, look }: Stamp,
  turn = 0,
): number {
  const { width, height } = stock.piece;
  const upright = ((look.turn ?? 0) + turn) % 180 === 0;
  const along = symbologies[symbology].linear
    ? upright
      ? width
      : height
    : Math.min(width, height);
  return Math.min(300, along);
}

/**
 * A code given another width. Bars stay at the height where they are: their square grows to both
 * sides of them.
 */
export function withCodeWidth(element: StampElement, stamp: Stamp, sizeMm: number): StampElement {
  if (!symbologies[stamp.symbology].linear) return { ...element, sizeMm };
  const upright = ((stamp.look.turn ?? 0) + (element.turn ?? 0)) % 180 === 0;
  const grown = (element.sizeMm - sizeMm) / 2;
  return {
    ...element,
    sizeMm,
    ...(upright ? { y: tenth(element.y + grown) } : { x: tenth(element.x + grown) }),
  };
}
