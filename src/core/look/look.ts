import { symbolHeight } from '../artwork/drawing';
import { contrastRatio, luminance, parseColour } from './colour';
import type { CodeSymbol, HriText } from '../symbology/types';

/** How a symbol is drawn. Lengths in mm. */
export interface Look {
  /** Wanted width with quiet zone, in mm. */
  sizeMm: number;
  /** Resolution of the printer, in dots per inch. */
  dpi: number;
  /** Make every module a whole number of printer dots, at or below the wanted size. */
  wholeDots: boolean;
  /** `#rrggbb`. */
  foreground: string;
  /** `#rrggbb` or `transparent`. */
  background: string;
  /** Draw the quiet zone that the symbology requires. */
  quietZone: boolean;
  /** Height of the bars of a linear symbol, in mm; in proportion to its width when left out. */
  barMm?: number;
  /** Whether the human-readable interpretation stands under a linear symbol; below when left out. */
  hri?: 'below' | 'none';
  /** Scale of images, in pixels a module; set from size and dpi when left out. */
  dotsPerModule?: number;
}

export const defaultLook: Look = {
  sizeMm: 24,
  dpi: 600,
  wholeDots: true,
  foreground: '#1d1a26',
  background: '#ffffff',
  quietZone: true,
};

export const mmPerInch = 25.4;

/** Size of a symbol in modules with its quiet zone, if the look keeps it. */
export function extent(symbol: CodeSymbol, look: Pick<Look, 'quietZone'>): { columns: number; rows: number; left: number; top: number } {
  const q = look.quietZone ? symbol.quietZone : { top: 0, right: 0, bottom: 0, left: 0 };
  return { columns: symbol.columns + q.left + q.right, rows: symbolHeight(symbol) + q.top + q.bottom, left: q.left, top: q.top };
}

/** What a symbol measures once its modules are whole dots. */
export interface Measure {
  moduleMm: number;
  /** Dots a module; not whole when the look insists on the wanted size. */
  dots: number;
  /** Width and height with quiet zone, in mm. */
  widthMm: number;
  heightMm: number;
}

/** Works out the module that comes nearest to the wanted size from below, never less than one dot. */
export function measure(symbol: CodeSymbol, look: Look): Measure {
  const { columns, rows } = extent(symbol, look);
  const perMm = look.dpi / mmPerInch;
  const wanted = (look.sizeMm / columns) * perMm;
  const dots = look.wholeDots ? Math.max(1, Math.floor(wanted + 1e-9)) : wanted;
  const moduleMm = dots / perMm;
  return { moduleMm, dots, widthMm: moduleMm * columns, heightMm: moduleMm * rows };
}

/** A symbol with bars as high as the look wants them; others come back as they are. */
export function withBarHeight(symbol: CodeSymbol, look: Look): CodeSymbol {
  if (symbol.stretchRow === undefined || !symbol.rowHeights || look.barMm === undefined) return symbol;
  const { moduleMm } = measure(symbol, look);
  const fixed = symbolHeight(symbol) - symbol.rowHeights[symbol.stretchRow];
  const height = Math.max(4, Math.round(look.barMm / moduleMm) - fixed);
  return { ...symbol, rowHeights: symbol.rowHeights.map((h, i) => (i === symbol.stretchRow ? height : h)) };
}

/** Modules that the line of text under a linear symbol takes. */
export const hriModules = 10;

/** The text under a symbol as the look wants it: what, where (modules from the symbol's left), under which height. */
export function hriOf(symbol: CodeSymbol, look: Pick<Look, 'hri'>): { texts: readonly HriText[]; top: number; extra: number } | undefined {
  if (!symbol.hri || look.hri === 'none') return undefined;
  const height = symbolHeight(symbol);
  // between guards that reach down, the text begins where the other bars end
  const top = symbol.hri.some((h) => h.spread) ? (symbol.rowHeights?.[0] ?? height) : height;
  return { texts: symbol.hri, top, extra: top + hriModules - height };
}

export interface LookWarning {
  kind: 'contrast' | 'inverted' | 'red-light' | 'small-module' | 'quiet-zone';
  message: string;
  mend: string;
}

/** Smallest module that phones resolve at reading distance, and that office printers keep apart, in mm. */
export const smallestModuleMm = 0.25;

/** What is likely to go wrong with a look before anything is printed. */
export function lookWarnings(look: Look, moduleMm: number): LookWarning[] {
  const warnings: LookWarning[] = [];
  const fore = parseColour(look.foreground);
  const back = parseColour(look.background === 'transparent' ? '#ffffff' : look.background);
  if (fore && back) {
    const ratio = contrastRatio(fore, back);
    if (luminance(fore) > luminance(back))
      warnings.push({ kind: 'inverted', message: 'Light on dark: many scanners read only dark on light.', mend: 'Swap the two colours.' });
    else if (ratio < 4)
      warnings.push({
        kind: 'contrast',
        message: `The colours are too close: contrast ${ratio.toFixed(1)} to 1, scanners want 4 or more.`,
        mend: 'Take a darker colour for the code.',
      });
    if (back.r - fore.r < 100 && luminance(fore) <= luminance(back))
      warnings.push({
        kind: 'red-light',
        message: 'Scanners with red light see this colour as light.',
        mend: 'Take black, blue, green or violet for the code.',
      });
  }
  if (moduleMm < smallestModuleMm)
    warnings.push({
      kind: 'small-module',
      message: `Modules of ${moduleMm.toFixed(2)} mm are finer than phones read at arm’s length (${smallestModuleMm} mm).`,
      mend: 'Make the code larger, or its content shorter.',
    });
  if (!look.quietZone)
    warnings.push({ kind: 'quiet-zone', message: 'Without its quiet zone a code is often not found.', mend: 'Switch the quiet zone on.' });
  return warnings;
}
