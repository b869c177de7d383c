import type { Piece, PieceElement } from './model';
import type { Stock } from './stock';

/**
 * Moves a design to another stock, with both sides: scaled as a whole and centred, so that
 * everything keeps its relative position. Nothing is ever deleted.
 */
export function inProportion(piece: Piece, from: Stock, to: Stock): Piece['elements'] {
  const scale = Math.min(to.piece.width / from.piece.width, to.piece.height / from.piece.height);
  const left = (to.piece.width - from.piece.width * scale) / 2;
  const top = (to.piece.height - from.piece.height * scale) / 2;
  return piece.elements.map((element) => {
    const next = scaled(element, scale);
    return { ...next, x: round(next.x + left), y: round(next.y + top) };
  });
}

/**
 * A design on a stock with changed measures: unchanged if it fits, else scaled down as a whole.
 */
export function restocked(piece: Piece, from: Stock, to: Stock): Piece['elements'] {
  const fits = (e: PieceElement) =>
    e.x < to.piece.width - 5 &&
    e.y < to.piece.height - 5 &&
    extentOf(e).every((mm, i) => mm <= (i === 0 ? to.piece.width : to.piece.height) + 0.01);
  if (piece.elements.every(fits)) return piece.elements;
  const scale = Math.min(1, to.piece.width / from.piece.width, to.piece.height / from.piece.height);
  return piece.elements.map((element) => scaled(element, scale));
}

/** Right and lower end, in mm; for text only what is known without laying it out. */
function extentOf(e: PieceElement): [right: number, lower: number] {
  if (e.kind === 'stamp') return [e.x + e.sizeMm, e.y + e.sizeMm];
  if (e.kind === 'text') return [e.x + e.width, e.y];
  // what reaches into the bleed is meant to
  return [Math.max(0, e.x) + Math.min(e.width, 1), Math.max(0, e.y) + Math.min(e.height, 1)];
}

const round = (mm: number): number => Math.round(mm * 100) / 100;

function scaled(element: PieceElement, by: number): PieceElement {
  const at = { x: round(element.x * by), y: round(element.y * by) };
  if (element.kind === 'stamp')
    return { ...element, ...at, sizeMm: Math.max(4, round(element.sizeMm * by)) };
  if (element.kind === 'text') {
    const points = (pt: number, least: number) => Math.max(least, Math.round(pt * by * 2) / 2);
    return {
      ...element,
      ...at,
      width: Math.max(2, round(element.width * by)),
      sizePt: points(element.sizePt, 4),
      minPt: points(element.minPt, 3),
    };
  }
  return {
    ...element,
    ...at,
    width: Math.max(0.1, round(element.width * by)),
    height: Math.max(0.1, round(element.height * by)),
  };
}
