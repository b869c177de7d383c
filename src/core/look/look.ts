import type { GradientDirection } from '../artwork/drawing';
import type { KeptPicture } from '../artwork/picture';
import { contrastRatio, luminance, parseColour } from './colour';
import type { FinderShape, ModuleShape } from './shapes';

/** How a symbol is drawn. Lengths in mm. */
export interface Look {
  /** Wanted width with quiet zone and frame, upright, in mm. */
  sizeMm: number;
  /** Resolution of the printer, in dots per inch. */
  dpi: number;
  /** Make every module a whole number of printer dots, at or below the wanted size. */
  wholeDots: boolean;
  /** `#rrggbb`. */
  foreground: string;
  /** `#rrggbb` or `transparent`. */
  background: string;
  /** A second colour into which the foreground runs. */
  gradient?: { to: string; direction: GradientDirection };
  /** Draw the quiet zone that the symbology requires. */
  quietZone: boolean;
  /** Shape of the modules, and of the finders of the QR family. Squares when left out. */
  modules?: ModuleShape;
  finders?: FinderShape;
  /** A picture in the middle; `share` is its longer side by the symbol's width, `clear` leaves out the modules under it. */
  logo?: { picture: KeptPicture; share: number; clear: boolean };
  /** A picture behind the code, lightened: 1 is the picture as it is, 0 is white. */
  behind?: { picture: KeptPicture; strength: number };
  frame?: { shape: 'square' | 'rounded'; caption: string; captionAt: 'above' | 'below' };
  /** Quarter turns clockwise. */
  turn?: 90 | 180 | 270;
  /** Height of the bars of a linear symbol, in mm; in proportion to its width when left out. */
  barMm?: number;
  /** Dark parts are narrower by this much, so that spreading ink brings them to size, in mm. */
  reduceMm?: number;
  /** How far away a phone is held, in mm; warnings weigh the module by it. */
  distanceMm?: number;
  /** Where the human-readable interpretation of a linear symbol stands; below when left out. */
  hri?: 'below' | 'above' | 'none';
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

export interface LookWarning {
  kind: 'contrast' | 'inverted' | 'red-light' | 'small-module' | 'quiet-zone' | 'capacity' | 'behind' | 'too-large' | 'shape';
  message: string;
  mend: string;
}

/** Smallest module that office printers keep apart, in mm. */
export const smallestModuleMm = 0.25;

/** A phone camera resolves about this share of the distance: 0.25 mm at 25 cm. */
export const modulePerDistance = 0.001;

/** What is likely to go wrong with a look before anything is printed. */
export function lookWarnings(look: Look, moduleMm: number): LookWarning[] {
  const { distanceMm } = look;
  const warnings: LookWarning[] = [];
  const back = parseColour(look.background === 'transparent' ? '#ffffff' : look.background);
  const fores = [look.foreground, ...(look.gradient ? [look.gradient.to] : [])].map(parseColour);
  const seen = new Set<string>();
  const warn = (warning: LookWarning) => {
    if (!seen.has(warning.kind)) warnings.push(warning);
    seen.add(warning.kind);
  };
  for (const fore of fores) {
    if (!fore || !back) continue;
    const ratio = contrastRatio(fore, back);
    if (luminance(fore) > luminance(back))
      warn({ kind: 'inverted', message: 'Light on dark: many scanners read only dark on light.', mend: 'Swap the two colours.' });
    else if (ratio < 4)
      warn({
        kind: 'contrast',
        message: `The colours are too close: contrast ${ratio.toFixed(1)} to 1, scanners want 4 or more.`,
        mend: 'Take a darker colour for the code.',
      });
    if (back.r - fore.r < 100 && luminance(fore) <= luminance(back))
      warn({
        kind: 'red-light',
        message: 'Scanners with red light see this colour as light.',
        mend: 'Take black, blue, green or violet for the code.',
      });
  }
  if (distanceMm !== undefined && moduleMm < distanceMm * modulePerDistance)
    warn({
      kind: 'small-module',
      message: `Modules of ${moduleMm.toFixed(2)} mm are finer than phones read at ${(distanceMm / 10).toFixed(0)} cm (${(distanceMm * modulePerDistance).toFixed(2)} mm).`,
      mend: 'Make the code larger, or its content shorter.',
    });
  else if (moduleMm < smallestModuleMm)
    warn({
      kind: 'small-module',
      message: `Modules of ${moduleMm.toFixed(2)} mm are finer than phones read at arm’s length (${smallestModuleMm} mm).`,
      mend: 'Make the code larger, or its content shorter.',
    });
  if ((look.reduceMm ?? 0) > moduleMm * 0.5)
    warn({
      kind: 'shape',
      message: `Narrowing by ${look.reduceMm} mm takes more than half of a module of ${moduleMm.toFixed(2)} mm.`,
      mend: 'Narrow it by less, or make the code larger.',
    });
  if (look.behind && look.behind.strength > 0.1)
    warn({ kind: 'behind', message: 'The picture behind is strong enough to be taken for modules.', mend: 'Lighten it to 10% or less.' });
  if (!look.quietZone)
    warn({ kind: 'quiet-zone', message: 'Without its quiet zone a code is often not found.', mend: 'Switch the quiet zone on.' });
  return warnings;
}
