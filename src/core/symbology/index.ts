import {
  aztecChoices,
  type Choices,
  codabarChoices,
  code39Choices,
  databarChoices,
  dataMatrixChoices,
  itf14Choices,
  itfChoices,
  pdf417Choices,
  productChoices,
  rmqrChoices,
} from './choices';
import { blockOfModule as dataMatrixBlocks } from './data-matrix/blocks';
import { isFinderModule } from './data-matrix/sizes';
import { blockOfModule as qrBlocks } from './qr/blocks';
import type { BlockMap } from './types';
import {
  databarHolds,
  encodeDatabar,
  expectedDatabarRead,
  planDatabar,
  type DatabarOptions,
} from './databar/encode';
import {
  checkGs1128,
  checkGs1DataMatrix,
  checkGs1Qr,
  encodeGs1128,
  encodeGs1DataMatrix,
  encodeGs1Qr,
  expectedGs1Read,
  gs1Holds,
} from './gs1/carriers';
import {
  encodeMaxicode,
  expectedMaxicodeRead,
  checkMaxicode,
  type MaxicodeOptions,
} from './maxicode/encode';
import { encodePdf417, checkPdf417, type Pdf417Options } from './pdf417/encode';
import { encodeMicroQr, planMicroQr } from './qr/micro';
import { encodeRmqr, planRmqr } from './qr/rmqr';
import { encodeAztec, checkAztec, type AztecOptions } from './aztec/encode';
import { encodeDataMatrix, checkDataMatrix, type DataMatrixOptions } from './data-matrix/encode';
import { checkCodabar, encodeCodabar, type CodabarOptions } from './linear/codabar';
import { checkCode128, encodeCode128 } from './linear/code-128';
import { checkCode39, encodeCode39, type Code39Options } from './linear/code-39';
import { checkCode93, encodeCode93 } from './linear/code-93';
import { ean13, ean8, expandUpcE, upcA, upcE, type EanOptions } from './linear/ean';
import { checkItf, checkItf14, encodeItf, encodeItf14, type ItfOptions } from './linear/itf';
import { checkQr, encodeQr, expectedQrRead, type QrOptions } from './qr/encode';
import {
  EncodeError,
  symbologyIds,
  type CodeSymbol,
  type ExpectedRead,
  type Fit,
  type SymbologyId,
} from './types';

export * from './types';
export type { QrOptions } from './qr/encode';
export { qrLevels, type QrLevel } from './qr/tables';

/** Options of every symbology; each reads its own and ignores the rest. */
export type EncodeOptions = QrOptions &
  DataMatrixOptions &
  AztecOptions &
  Code39Options &
  CodabarOptions &
  ItfOptions &
  EanOptions &
  DatabarOptions &
  Pdf417Options &
  MaxicodeOptions & { /** Greatest height of an rMQR code in modules. */ maxRows?: number };

/**
 * One entry per symbology: to add one, write its folder or file, add its id in `types.ts` and its
 * entry here.
 */
export interface Symbology {
  id: SymbologyId;
  /** The trade's name. */
  name: string;
  /** Its use and the scanners that read it, in plain words. */
  about: string;
  /** Bars only: its height is free, its width follows the content. */
  linear: boolean;
  encode(payload: string | Uint8Array, options: EncodeOptions): CodeSymbol;
  /** Checks a payload without drawing; throws EncodeError as `encode` would. */
  check(payload: string, options: EncodeOptions): void;
  expectedRead(symbol: CodeSymbol, options: EncodeOptions): ExpectedRead;
  /**
   * The exact content of its symbol, if that may be more than the payload: a check digit, or
   * identifiers in brackets. Throws EncodeError as `encode` would.
   */
  holds?(payload: string, options: EncodeOptions): string;
  /** The independent reader's names of the format. */
  readerFormats: readonly ReaderFormat[];
  /** Its level of error correction can be chosen. */
  levels?: boolean;
  /**
   * Its modules may have another shape; bars must stay bars, and readers want the squares of some.
   */
  shaped?: boolean;
  /** Top left corners of its 7 × 7 finders, whose shape may be another one. */
  finders?(symbol: CodeSymbol): [row: number, column: number][];
  /**
   * Whether a module belongs to a pattern by which a reader finds the symbol, so that it keeps its
   * full square.
   */
  isGuide?(symbol: CodeSymbol, row: number, column: number): boolean;
  /** The real layout of codewords, for code types that can have a logo. */
  blocks?(symbol: CodeSymbol): BlockMap;
  /**
   * The GS1 symbology beside it, in which elements are understood that it would carry as mere text.
   */
  gs1?: SymbologyId;
  /** Its settings. */
  choices?: Choices;
  /** Carries element strings, and would read data without an identifier as others. */
  elements?: boolean;
}

/** The common part of the QR code and its GS1 form, and the same for Data Matrix. */
const qrTraits = {
  levels: true,
  shaped: true,
  finders: ({ rows, columns }: CodeSymbol): [number, number][] => [
    [0, 0],
    [0, columns - 7],
    [rows - 7, 0],
  ],
  blocks: qrBlocks,
};
const dataMatrixTraits = {
  shaped: true,
  isGuide: isFinderModule,
  blocks: dataMatrixBlocks,
};

export type ReaderFormat =
  | 'QRCode'
  | 'MicroQRCode'
  | 'RMQRCode'
  | 'DataMatrix'
  | 'Aztec'
  | 'PDF417'
  | 'CompactPDF417'
  | 'MaxiCode'
  | 'Code128'
  | 'Code39Std'
  | 'Code93'
  | 'Codabar'
  | 'ITF'
  | 'EAN13'
  | 'EAN8'
  | 'UPCA'
  | 'UPCE'
  | 'DataBar'
  | 'DataBarLtd'
  | 'DataBarExp';

const textOf = (symbol: CodeSymbol): string =>
  typeof symbol.payload === 'string'
    ? symbol.payload
    : Array.from(symbol.payload, (b) => String.fromCharCode(b)).join('');
const sameText =
  (format: string) =>
  (symbol: CodeSymbol): ExpectedRead => ({ format, text: textOf(symbol) });

/** Product numbers with an add-on are read one after the other. */
const productRead =
  (format: string, whole: (digits: string) => string = (digits) => digits) =>
  (symbol: CodeSymbol): ExpectedRead => {
    const [digits, addOn] = textOf(symbol).split('+');
    return { format, text: whole(digits!) + (addOn ?? '') };
  };

const linear = (
  name: string,
  readerFormat: ReaderFormat,
  about: string,
  encode: Symbology['encode'],
  check: Symbology['check'],
  expected: Symbology['expectedRead'] = sameText(readerFormat),
): Omit<Symbology, 'id'> => ({
  name,
  readerFormats: [readerFormat],
  about,
  linear: true,
  encode,
  check,
  expectedRead: expected,
});

const entries: { readonly [K in SymbologyId]: Omit<Symbology, 'id'> } = {
  qr: {
    ...qrTraits,
    gs1: 'gs1-qr',
    name: 'QR code',
    readerFormats: ['QRCode'],
    linear: false,
    encode: encodeQr,
    check: checkQr,
    expectedRead: expectedQrRead,
    about:
      'Read by every phone camera and by any scanner that takes pictures. Holds addresses, text and contacts, up to about 2,900 characters.',
  },
  'data-matrix': {
    choices: dataMatrixChoices,
    ...dataMatrixTraits,
    gs1: 'gs1-data-matrix',
    name: 'Data Matrix',
    readerFormats: ['DataMatrix'],
    linear: false,
    encode: encodeDataMatrix,
    check: (payload, options) => checkDataMatrix(payload, options),
    expectedRead: sameText('DataMatrix'),
    about:
      'The smallest square for a short number: asset tags, instruments, small parts. Read by scanners that take pictures and by many phones, not by all.',
  },
  aztec: {
    choices: aztecChoices,
    shaped: true,
    isGuide: ({ rows, columns }, row, column) =>
      Math.max(Math.abs(row - (rows - 1) / 2), Math.abs(column - (columns - 1) / 2)) <= 7,
    gs1: 'gs1-qr',
    name: 'Aztec code',
    readerFormats: ['Aztec'],
    linear: false,
    encode: encodeAztec,
    check: (payload, options) => checkAztec(payload, options),
    expectedRead: sameText('Aztec'),
    about:
      'A square that needs no margin: tickets on phones and on paper. Read by scanners that take pictures and by many phones, not by all.',
  },
  'code-128': {
    ...linear(
      'Code 128',
      'Code128',
      'Bars for any letters, digits and signs: numbers on badges, shelves and parcels. Read by every hand-held scanner.',
      encodeCode128,
      (p) => void checkCode128(p),
    ),
    gs1: 'gs1-128',
  },
  'code-39': {
    ...linear(
      'Code 39',
      'Code39Std',
      'Bars for capitals and digits; wide and old, and read by the oldest scanners. Code 128 is shorter.',
      encodeCode39,
      (p, o) => void checkCode39(p, o),
      (symbol) => ({ format: 'Code39Std', text: String(symbol.facts.said) }),
    ),
    choices: code39Choices,
    gs1: 'gs1-128',
  },
  'code-93': {
    ...linear(
      'Code 93',
      'Code93',
      'Bars for capitals and digits with two check characters; shorter than Code 39.',
      encodeCode93,
      (p) => void checkCode93(p),
    ),
    gs1: 'gs1-128',
  },
  codabar: {
    ...linear(
      'Codabar',
      'Codabar',
      'Bars for digits, in libraries and laboratories that have used it for long.',
      encodeCodabar,
      (p) => void checkCodabar(p),
      (symbol) => ({ format: 'Codabar', text: String(symbol.facts.said) }),
    ),
    choices: codabarChoices,
  },
  itf: {
    ...linear(
      'Interleaved 2 of 5',
      'ITF',
      'Bars for an even number of digits, on cartons and in stores.',
      encodeItf,
      (p) => void checkItf(p),
    ),
    choices: itfChoices,
  },
  'itf-14': {
    ...linear(
      'ITF-14',
      'ITF',
      'The 14-digit trade number on cartons, with bearer bars for rough print.',
      encodeItf14,
      (p, o) => void checkItf14(p, o),
    ),
    choices: itf14Choices,
    holds: checkItf14,
  },
  'ean-13': {
    ...linear(
      'EAN-13',
      'EAN13',
      'The 13-digit product number at the till.',
      ean13.encode,
      (p, o) => void ean13.check(p, o),
      productRead('EAN13'),
    ),
    choices: productChoices,
    holds: ean13.holds,
  },
  'ean-8': {
    ...linear(
      'EAN-8',
      'EAN8',
      'The 8-digit product number for small packs.',
      ean8.encode,
      (p, o) => void ean8.check(p, o),
      productRead('EAN8'),
    ),
    choices: productChoices,
    holds: ean8.holds,
  },
  'upc-a': {
    ...linear(
      'UPC-A',
      'UPCA',
      'The 12-digit product number at the till.',
      upcA.encode,
      (p, o) => void upcA.check(p, o),
      productRead('UPCA', (digits) => `0${digits}`),
    ),
    choices: productChoices,
    holds: upcA.holds,
  },
  'upc-e': {
    ...linear(
      'UPC-E',
      'UPCE',
      'A 12-digit product number with many zeros, shortened to 8 for small packs.',
      upcE.encode,
      (p, o) => void upcE.check(p, o),
      productRead('UPCE', (digits) => `0${expandUpcE(digits)}`),
    ),
    choices: productChoices,
    holds: upcE.holds,
  },
  'micro-qr': {
    levels: true,
    shaped: true,
    finders: () => [[0, 0]],
    gs1: 'gs1-qr',
    name: 'Micro QR code',
    readerFormats: ['MicroQRCode'],
    linear: false,
    encode: encodeMicroQr,
    check: (payload, options) => void planMicroQr(payload, options),
    expectedRead: sameText('MicroQRCode'),
    about:
      'A very small square for up to 35 digits or 15 letters on small parts. Read by scanners that take pictures; phone cameras seldom read it.',
  },
  rmqr: {
    choices: rmqrChoices,
    levels: true,
    gs1: 'gs1-qr',
    name: 'rMQR code',
    readerFormats: ['RMQRCode'],
    linear: false,
    encode: encodeRmqr,
    check: (payload, options) => void planRmqr(payload, options),
    expectedRead: (symbol, options) => ({
      ...sameText('RMQRCode')(symbol),
      identifier: options.gs1 ? ']Q3' : undefined,
    }),
    about:
      'A low, wide strip for edges, tubes and narrow labels. Read by newer scanners that take pictures; phone cameras seldom read it.',
  },
  pdf417: {
    choices: pdf417Choices,
    gs1: 'gs1-data-matrix',
    name: 'PDF417',
    readerFormats: ['PDF417', 'CompactPDF417'],
    linear: false,
    encode: encodePdf417,
    check: (payload, options) => checkPdf417(payload, options),
    expectedRead: sameText('PDF417'),
    about:
      'Rows of bars for long texts on cards and papers. Read by scanners that take pictures, by some laser scanners and by some phones.',
  },
  maxicode: {
    gs1: 'gs1-data-matrix',
    name: 'MaxiCode',
    readerFormats: ['MaxiCode'],
    linear: false,
    encode: encodeMaxicode,
    check: (payload, options) => checkMaxicode(payload, options),
    expectedRead: expectedMaxicodeRead,
    about:
      'Hexagons round three rings, always about 28 by 27 mm, for sorting parcels at speed. Read by carriers’ scanners, not by phones.',
  },
  'gs1-128': {
    ...linear(
      'GS1-128',
      'Code128',
      'Bars for product numbers with lots, dates and weights, on cartons and pallets. Read by every hand-held scanner.',
      encodeGs1128,
      (p) => void checkGs1128(p),
      expectedGs1Read('Code128', ']C1'),
    ),
    elements: true,
    holds: gs1Holds,
  },
  'gs1-databar': {
    choices: databarChoices,
    name: 'GS1 DataBar',
    readerFormats: ['DataBar', 'DataBarLtd', 'DataBarExp'],
    linear: true,
    encode: encodeDatabar,
    check: (payload, options) => void planDatabar(payload, options),
    expectedRead: expectedDatabarRead,
    holds: databarHolds,
    about:
      'Small bars for product numbers on loose fruit and small packs; the expanded form adds weight, price or date. Read at tills.',
  },
  'gs1-data-matrix': {
    choices: dataMatrixChoices,
    ...dataMatrixTraits,
    elements: true,
    name: 'GS1 Data Matrix',
    readerFormats: ['DataMatrix'],
    linear: false,
    encode: encodeGs1DataMatrix,
    check: checkGs1DataMatrix,
    expectedRead: expectedGs1Read('DataMatrix', ']d2'),
    holds: gs1Holds,
    about:
      'Product number, lot, date and serial in a small square. Read by scanners that take pictures, at more and more tills.',
  },
  'gs1-qr': {
    ...qrTraits,
    elements: true,
    name: 'GS1 QR code',
    readerFormats: ['QRCode'],
    linear: false,
    encode: encodeGs1Qr,
    check: checkGs1Qr,
    expectedRead: expectedGs1Read('QRCode', ']Q3'),
    holds: gs1Holds,
    about:
      'A product number with lot and date, or a GS1 Digital Link. Phones open it as a page, and tills read it as a product number.',
  },
};

export const symbologies = Object.fromEntries(
  symbologyIds.map((id) => [id, { id, ...entries[id] }]),
) as Record<SymbologyId, Symbology>;
/** The default code type: every phone reads it. */
export const usualSymbology: SymbologyId = 'qr';

/**
 * Encodes a payload as a symbol. Text is encoded as Unicode; bytes are kept as they are.
 * @throws EncodeError with the wrong character or length and its fix; nothing is cut or replaced
 */
export function encode(
  symbology: SymbologyId,
  payload: string | Uint8Array,
  options: EncodeOptions = {},
): CodeSymbol {
  return symbologies[symbology].encode(payload, options);
}

/** No code holds more: a QR code of version 40 with digits alone (ISO/IEC 18004). */
const mostPayload = 7089;

/**
 * Whether a payload can be encoded in a code type, and if not, why and how to fix it. Never throws
 * for bad payloads.
 */
export function explainFit(
  symbology: SymbologyId,
  payload: string,
  options: EncodeOptions = {},
): Fit {
  if (payload.length > mostPayload)
    return {
      fits: false,
      reason: `Too long for any code: ${payload.length.toLocaleString('en')} characters.`,
      mend: 'Shorten it, or put an address into the code under which the text can be read.',
    };
  try {
    symbologies[symbology].check(payload, options);
    return { fits: true };
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    return { fits: false, reason: error.message, position: error.position, mend: error.mend };
  }
}

/**
 * The exact content of a symbol made from a payload: what is displayed, and what a reading is
 * compared with. A payload that does not fit is returned as it is.
 */
export function heldBy(
  symbology: SymbologyId,
  payload: string,
  options: EncodeOptions = {},
): string {
  try {
    return symbologies[symbology].holds?.(payload, options) ?? payload;
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    return payload;
  }
}

/**
 * What an independent reader returns for a correct symbol: the payload, in the form in which
 * readers return its format. Nothing is added or forgiven here.
 */
export function expectedRead(symbol: CodeSymbol, options: EncodeOptions = {}): ExpectedRead {
  return symbologies[symbol.symbology].expectedRead(symbol, options);
}
