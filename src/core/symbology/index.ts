import { encodeQr, expectedQrRead, planQr, type QrOptions } from './qr/encode';
import { EncodeError, type CodeSymbol, type ExpectedRead, type Fit, type SymbologyId } from './types';

export * from './types';
export type { QrOptions } from './qr/encode';
export { qrLevels, type QrLevel } from './qr/tables';

/** Options of every symbology; each reads its own and ignores the rest. */
export type EncodeOptions = QrOptions;

/** One entry per symbology: to add one, write its folder and add its entry here and its id in `types.ts`. */
export interface Symbology {
  id: SymbologyId;
  /** The trade's name. */
  name: string;
  /** What it is for and which scanners read it, in plain words. */
  about: string;
  encode(payload: string | Uint8Array, options: EncodeOptions): CodeSymbol;
  /** Checks a payload without drawing; throws EncodeError as `encode` would. */
  check(payload: string, options: EncodeOptions): void;
  expectedRead(symbol: CodeSymbol, options: EncodeOptions): ExpectedRead;
  /** The independent reader's name of the format. */
  readerFormat: 'QRCode';
}

export const symbologies: Record<SymbologyId, Symbology> = {
  qr: {
    id: 'qr',
    name: 'QR code',
    about:
      'Read by every phone camera and by any scanner that takes pictures. Holds addresses, text and contacts, up to about 2,900 characters.',
    encode: encodeQr,
    check: (payload, options) => void planQr(payload, options),
    expectedRead: expectedQrRead,
    readerFormat: 'QRCode',
  },
};

/**
 * Encodes a payload as a symbol. Text is taken as Unicode; bytes are kept as they are.
 * @throws EncodeError which names the character or length at fault and what would mend it; nothing is cut or replaced
 */
export function encode(symbology: SymbologyId, payload: string | Uint8Array, options: EncodeOptions = {}): CodeSymbol {
  return symbologies[symbology].encode(payload, options);
}

/** Says whether a payload can be said in a symbology, and if not, why and what would mend it. Never throws for bad payloads. */
export function explainFit(symbology: SymbologyId, payload: string, options: EncodeOptions = {}): Fit {
  try {
    symbologies[symbology].check(payload, options);
    return { fits: true };
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    return { fits: false, reason: error.message, position: error.position, mend: error.mend };
  }
}

export function expectedRead(symbol: CodeSymbol, options: EncodeOptions = {}): ExpectedRead {
  return symbologies[symbol.symbology].expectedRead(symbol, options);
}
