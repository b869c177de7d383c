import { isAddress, parseDigitalLink } from './digital-link';
import { bracketed, elementString, parseElements } from './elements';
import { encodeDataMatrix, planDataMatrix, type DataMatrixOptions } from '../data-matrix/encode';
import { asText, linearSymbol } from '../linear/bars';
import { code128Widths, code128Words } from '../linear/code-128';
import { encodeQr, planQr, type QrOptions } from '../qr/encode';
import { EncodeError, type ExpectedRead, type MatrixSymbol } from '../types';

/**
 * Most characters of data in one GS1-128, separators counted, identifiers too (GS1 General
 * Specifications).
 */
const most128 = 48;

const without = (payload: string | Uint8Array): string => asText(payload);

/**
 * The content of a GS1 symbol: its elements, identifiers in brackets, or a Digital Link as it is.
 */
export const gs1Holds = (payload: string): string =>
  isAddress(payload) ? payload : bracketed(parseElements(payload));

export function checkGs1128(payload: string | Uint8Array): { data: string; hri: string } {
  const elements = parseElements(without(payload));
  const data = elementString(elements);
  if (data.length > most128)
    throw new EncodeError(
      'length',
      `Too long for a GS1-128: ${data.length} of at most ${most128} characters with their identifiers.`,
      {
        mend: 'Spread it over two codes, or use GS1 Data Matrix.',
      },
    );
  return { data, hri: bracketed(elements) };
}

/** Encodes a GS1 element string as Code 128 with FNC1 in first position (GS1-128). */
export function encodeGs1128(payload: string | Uint8Array): MatrixSymbol {
  const { data, hri } = checkGs1128(payload);
  const words = code128Words(data, true);
  return linearSymbol(
    'gs1-128',
    without(payload),
    code128Widths(words),
    10,
    { codewords: words.length },
    hri,
  );
}

/**
 * The encoded data of a two-dimensional GS1 symbol: an element string after FNC1, or a Digital Link
 * as it is.
 */
function gs1Data(payload: string | Uint8Array): { data: string; gs1: boolean } {
  const text = without(payload);
  if (isAddress(text)) {
    parseDigitalLink(text);
    return { data: text, gs1: false };
  }
  return { data: elementString(parseElements(text)), gs1: true };
}

export function checkGs1DataMatrix(payload: string | Uint8Array, options: DataMatrixOptions): void {
  const { data, gs1 } = gs1Data(payload);
  planDataMatrix(data, { ...options, gs1 });
}

/** Encodes a GS1 element string, or a Digital Link, as Data Matrix. */
export function encodeGs1DataMatrix(
  payload: string | Uint8Array,
  options: DataMatrixOptions = {},
): MatrixSymbol {
  const { data, gs1 } = gs1Data(payload);
  return {
    ...encodeDataMatrix(data, { ...options, gs1 }),
    symbology: 'gs1-data-matrix',
    payload: without(payload),
  };
}

export function checkGs1Qr(payload: string | Uint8Array, options: QrOptions): void {
  const { data, gs1 } = gs1Data(payload);
  planQr(data, { ...options, gs1 });
}

/** Encodes a GS1 element string, or a Digital Link, as a QR code. */
export function encodeGs1Qr(payload: string | Uint8Array, options: QrOptions = {}): MatrixSymbol {
  const { data, gs1 } = gs1Data(payload);
  return { ...encodeQr(data, { ...options, gs1 }), symbology: 'gs1-qr', payload: without(payload) };
}

/** Element string with its separators, and the symbology identifier of GS1 data. */
export function expectedGs1Read(
  format: string,
  identifier: string,
): (symbol: MatrixSymbol) => ExpectedRead {
  return (symbol) => {
    const { data, gs1 } = gs1Data(symbol.payload);
    return { format, text: data, identifier: gs1 ? identifier : undefined };
  };
}
