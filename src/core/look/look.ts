import type { GradientDirection } from '../drawing/drawing';
import type { KeptPicture } from '../drawing/picture';
import type { FinderShape, ModuleShape } from './shapes';

/** How a symbol is drawn. Lengths in mm. */
export interface Look {
  /** Wanted width with quiet zone and frame, upright, in mm. */
  sizeMm: number;
  /**
   * Printer dots per module, if the module is fixed and the width follows the content; if
   * undefined, the width is fixed.
   */
  moduleDots?: number;
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
  /**
   * A picture in the middle; `share` is its longer side by the symbol's width, `clear` leaves out
   * the modules under it.
   */
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
  /** The scanning distance, in mm; warnings compare the module with it. */
  distanceMm?: number;
  /** The position of the human-readable text of a linear symbol; below by default. */
  hri?: 'below' | 'above' | 'none';
  /**
   * Width of PNG and JPEG pictures, in pixels, exactly: modules are whole pixels, and the rest is
   * light margin. Other formats use `sizeMm`.
   */
  pixels?: number;
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

/** Smallest module that office printers resolve, in mm. */
export const smallestModuleMm = 0.25;

/** A phone camera resolves about this share of the distance: 0.25 mm at 25 cm. */
export const modulePerDistance = 0.001;
