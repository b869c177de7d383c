/**
 * The shapes that every symbology shares. Positions are in modules; nothing here knows millimetres
 * or pixels.
 */

export const symbologyIds = [
  'qr',
  'data-matrix',
  'aztec',
  'code-128',
  'code-39',
  'code-93',
  'codabar',
  'itf',
  'itf-14',
  'ean-13',
  'ean-8',
  'upc-a',
  'upc-e',
  'micro-qr',
  'rmqr',
  'pdf417',
  'maxicode',
  'gs1-128',
  'gs1-databar',
  'gs1-data-matrix',
  'gs1-qr',
] as const;
export type SymbologyId = (typeof symbologyIds)[number];

/** Light margin in modules that the symbology's standard requires on each side. */
export interface QuietZone {
  top: number;
  right: number;
  bottom: number;
  left: number;
}

/** Which codeword each module belongs to, and how much each block of codewords survives. */
export interface BlockMap {
  /** Codeword of each module, or -1 for patterns that carry no data. */
  codewordOf: Int32Array;
  /** Block of each codeword. */
  blockOf: Int32Array;
  /** Wrong codewords that each block can correct. */
  capacity: number;
}

/** Facts about a symbol: version, level, mask and the like, for people and for tests. */
export type SymbolFacts = Readonly<Record<string, string | number | boolean>>;

/** A piece of the human-readable interpretation: its text, and the modules it belongs to. */
export interface HriText {
  text: string;
  /** Left edge and width in modules, from the symbol's left edge without quiet zone. */
  x: number;
  width: number;
  /**
   * Each character in the middle of its own equal share of the width, as EAN/UPC sets its digits.
   */
  spread?: boolean;
  /**
   * Top edge in modules from the symbol's top, for a text next to bars; below the bars by default.
   */
  top?: number;
}

/**
 * A symbol made of dark and light cells on a grid. All columns are one module wide; rows may be
 * higher.
 */
export interface MatrixSymbol {
  kind: 'matrix';
  symbology: SymbologyId;
  /** Width in modules, without quiet zone. */
  columns: number;
  /** Height in modules, without quiet zone. */
  rows: number;
  /** `columns × rows` values, row by row from the top left; 1 is dark. */
  modules: Uint8Array;
  /** Height of each row in modules; one module each when left out. */
  rowHeights?: readonly number[];
  /** The row whose height follows the look: the bars of a linear symbol. */
  stretchRow?: number;
  /**
   * Modules are hexagons, odd rows half a module to the right, round a finder of three rings
   * (MaxiCode).
   */
  hexagons?: boolean;
  hri?: readonly HriText[];
  quietZone: QuietZone;
  /** The payload as it was given, bytes of a text being its UTF-8. */
  payload: string | Uint8Array;
  facts: SymbolFacts;
  /** SHA-256, in hexadecimal, of the text of a right reading, if the payload itself is hidden. */
  readingHash?: string;
}

export type CodeSymbol = MatrixSymbol;

export type EncodeErrorKind = 'empty' | 'length' | 'character' | 'check-digit' | 'option';

/** Thrown by `encode` if the payload does not fit the code type. `message` is in plain words. */
export class EncodeError extends Error {
  readonly kind: EncodeErrorKind;
  /** Index of the wrong character (UTF-16 code units from 0), if there is one. */
  readonly position?: number;
  /** The fix, in plain words. */
  readonly mend?: string;

  constructor(
    kind: EncodeErrorKind,
    message: string,
    more: { position?: number; mend?: string } = {},
  ) {
    super(message);
    this.name = 'EncodeError';
    this.kind = kind;
    this.position = more.position;
    this.mend = more.mend;
  }
}

/** Whether a payload fits a code type, and if not, why and how to fix it. */
export type Fit =
  { fits: true } | { fits: false; reason: string; position?: number; mend?: string };

/** What an independent reader must report for a symbol to count as right. */
export interface ExpectedRead {
  /** The reader's name of the format. */
  format: string;
  text: string;
  /** Symbology identifier of ISO/IEC 15424, such as `]Q1`. */
  identifier?: string;
}
