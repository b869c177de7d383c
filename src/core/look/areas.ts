import type { CodeSymbol } from '../symbology/types';
import { clearedArea } from './capacity';
import { hriModules, type SymbolLayout } from './layout';
import type { Look } from './look';
import { findersOf } from './shapes';

/** The parts of a code that can be selected to change them. */
export type LookPart = 'surround' | 'modules' | 'finder' | 'middle' | 'text';

/** The position of a part in the finished, turned code, in modules from its top left. */
export interface LookArea {
  part: LookPart;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Side of the middle relative to the symbol's width, if there is no logo yet. */
const middleShare = 0.2;

/**
 * The parts of a code from the largest to the smallest, so that later ones lie over earlier ones.
 */
export function lookAreas(symbol: CodeSymbol, look: Look, layout: SymbolLayout): LookArea[] {
  const { x, y, columns, rows, barsHeight } = layout;
  const areas: LookArea[] = [
    { part: 'surround', x: 0, y: 0, width: columns, height: rows },
    { part: 'modules', x, y, width: symbol.columns, height: barsHeight },
  ];
  const finders = findersOf(symbol);
  for (const [r, c] of finders)
    areas.push({ part: 'finder', x: x + c, y: y + r, width: 7, height: 7 });
  const logo = look.logo && clearedArea(symbol, look.logo.share, look.logo.picture);
  if (logo)
    areas.push({
      part: 'middle',
      x: x + logo.x,
      y: y + logo.y,
      width: logo.width,
      height: logo.height,
    });
  else if (finders.length === 3) {
    const side = symbol.columns * middleShare;
    areas.push({
      part: 'middle',
      x: x + (symbol.columns - side) / 2,
      y: y + (symbol.rows - side) / 2,
      width: side,
      height: side,
    });
  }
  if (layout.hri)
    areas.push({
      part: 'text',
      x: layout.code.x,
      y: layout.hriTop,
      width: layout.code.width,
      height: Math.min(hriModules, rows - layout.hriTop),
    });
  return areas.map((area) => turnedArea(area, columns, rows, look.turn ?? 0));
}

function turnedArea(
  { part, x, y, width, height }: LookArea,
  columns: number,
  rows: number,
  turn: 0 | 90 | 180 | 270,
): LookArea {
  if (turn === 90) return { part, x: rows - y - height, y: x, width: height, height: width };
  if (turn === 180) return { part, x: columns - x - width, y: rows - y - height, width, height };
  if (turn === 270) return { part, x: y, y: columns - x - width, width: height, height: width };
  return { part, x, y, width, height };
}
