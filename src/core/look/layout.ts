import { symbolHeight } from '../drawing/drawing';
import type { CodeSymbol, HriText } from '../symbology/types';
import { mmPerInch, type Look } from './look';

/** Modules that the line of text at a symbol takes. */
export const hriModules = 10;
/** From the top of that line to the baseline. */
const baseline = 8;

/** The positions of the parts of a code, in modules, before it is turned. */
export interface SymbolLayout {
  /** Whole width and height with quiet zone, text and frame. */
  columns: number;
  rows: number;
  /** Top left of the symbol without quiet zone. */
  x: number;
  y: number;
  /** Height of the symbol itself. */
  barsHeight: number;
  /** The symbol with its quiet zone, without text and frame. */
  code: { x: number; y: number; width: number; height: number };
  hri?: readonly HriText[];
  /** Top of the line of text. */
  hriTop: number;
  hriBaseline: number;
  frame?: { line: number; band: number; bandTop: boolean; corner: number };
  moduleMm: number;
  /** Dots a module; not whole when the look insists on the wanted size. */
  dots: number;
}

/**
 * Lays out a symbol by its look and calculates the module: whole dots at or below the wanted size,
 * never less than one.
 */
export function layoutOf(symbol: CodeSymbol, look: Look): SymbolLayout {
  const q = look.quietZone ? symbol.quietZone : { top: 0, right: 0, bottom: 0, left: 0 };
  const barsHeight = symbolHeight(symbol);
  const width = symbol.columns + (symbol.hexagons ? 0.5 : 0) + q.left + q.right;
  const frame = look.frame && frameOf(look.frame, width);
  const left = frame?.line ?? 0;
  const top = frame ? (frame.bandTop ? frame.band : frame.line) : 0;
  const bottom = frame ? (frame.bandTop ? frame.line : frame.band) : 0;
  const hri = symbol.hri && look.hri !== 'none' ? symbol.hri : undefined;
  const above = hri !== undefined && look.hri === 'above' && !hri.some((h) => h.spread);
  const x = left + q.left;
  const y = top + (above ? hriModules : 0) + q.top;
  // between guards that reach down, the text begins where the other bars end
  const guard = hri?.some((h) => h.spread) ? symbol.rowHeights!.at(-1)! : 0;
  const hriTop = above ? top : y + barsHeight - guard;
  const below = hri && !above ? Math.max(hriModules - guard, 0) : 0;
  const columns = width + 2 * left;
  const rows = y + barsHeight + Math.max(q.bottom, below) + bottom;
  const perMm = look.dpi / mmPerInch;
  const wanted = look.moduleDots ?? (look.sizeMm / columns) * perMm;
  const dots = look.wholeDots ? Math.max(1, Math.floor(wanted + 1e-9)) : wanted;
  return {
    columns,
    rows,
    x,
    y,
    barsHeight,
    code: { x: left, y: y - q.top, width, height: barsHeight + q.top + q.bottom },
    hri: hri?.map((h) => (h.top === undefined ? h : { ...h, top: h.top + y })),
    hriTop,
    hriBaseline: baseline,
    frame,
    moduleMm: dots / perMm,
    dots,
  };
}

/** The measures of a code whose modules are whole dots. */
export interface Measure {
  moduleMm: number;
  /** Dots a module; not whole when the look insists on the wanted size. */
  dots: number;
  /** Width and height with quiet zone, text and frame, as turned, in mm. */
  widthMm: number;
  heightMm: number;
}

export function measure(symbol: CodeSymbol, look: Look): Measure {
  const { columns, rows, moduleMm, dots } = layoutOf(symbol, look);
  const [across, down] = look.turn === 90 || look.turn === 270 ? [rows, columns] : [columns, rows];
  return { moduleMm, dots, widthMm: moduleMm * across, heightMm: moduleMm * down };
}

/** A frame's line, and the band for its caption, in proportion to the code. */
function frameOf(
  { shape, caption, captionAt }: NonNullable<Look['frame']>,
  width: number,
): NonNullable<SymbolLayout['frame']> {
  const line = Math.max(1, width * 0.025);
  const band = caption ? Math.max(6, width * 0.16) : line;
  return {
    line,
    band,
    bandTop: captionAt === 'above',
    corner: shape === 'rounded' ? width * 0.07 : 0,
  };
}

/** A symbol with bars as high as its look asks for; others are returned as they are. */
export function withBarHeight(symbol: CodeSymbol, look: Look): CodeSymbol {
  if (symbol.stretchRow === undefined || !symbol.rowHeights || look.barMm === undefined)
    return symbol;
  const { moduleMm } = layoutOf(symbol, look);
  const fixed = symbolHeight(symbol) - symbol.rowHeights[symbol.stretchRow]!;
  const height = Math.max(4, Math.round(look.barMm / moduleMm) - fixed);
  return {
    ...symbol,
    rowHeights: symbol.rowHeights.map((h, i) => (i === symbol.stretchRow ? height : h)),
  };
}
