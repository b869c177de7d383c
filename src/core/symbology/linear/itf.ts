import { EncodeError, type MatrixSymbol } from '../types';
import {
  asText,
  linearSymbol,
  modulesOf,
  requireCharacters,
  rowsSymbol,
  sides,
  withCheckDigit,
  type CheckDigitOptions,
} from './bars';

/**
 * Interleaved 2 of 5 (ISO/IEC 16390): a pair of digits in five bars and five spaces, wide ones 1.
 */
const patterns = [
  '00110',
  '10001',
  '01001',
  '11000',
  '00101',
  '10100',
  '01100',
  '00011',
  '10010',
  '01010',
];

export interface ItfOptions extends CheckDigitOptions {
  wide?: 2 | 3;
}

function pairWidths(digits: string, wide: number): number[] {
  const widths = [1, 1, 1, 1];
  for (let i = 0; i < digits.length; i += 2) {
    const bars = patterns[Number(digits[i])]!;
    const spaces = patterns[Number(digits[i + 1])]!;
    for (let k = 0; k < 5; k++)
      widths.push(bars[k] === '1' ? wide : 1, spaces[k] === '1' ? wide : 1);
  }
  return [...widths, wide, 1, 1];
}

export function checkItf(payload: string | Uint8Array): string {
  const text = asText(payload);
  requireCharacters(text, /\d/, 'Interleaved 2 of 5', 'digits only', 'Remove it, or use Code 128.');
  if (text.length % 2 === 1)
    throw new EncodeError(
      'length',
      `Interleaved 2 of 5 holds pairs of digits; this has ${text.length}.`,
      { mend: 'Put a zero in front.' },
    );
  if (text.length > 80)
    throw new EncodeError(
      'length',
      `Too long for an Interleaved 2 of 5 that scanners still read: ${text.length} of at most 80 digits.`,
      {
        mend: 'Shorten it, or use Code 128.',
      },
    );
  return text;
}

export function encodeItf(payload: string | Uint8Array, options: ItfOptions = {}): MatrixSymbol {
  const text = checkItf(payload);
  return linearSymbol(
    'itf',
    text,
    pairWidths(text, options.wide ?? 3),
    10,
    { digits: text.length },
    text,
  );
}

export const checkItf14 = (payload: string | Uint8Array, options: CheckDigitOptions = {}): string =>
  withCheckDigit(asText(payload), 14, 'ITF-14', options);

/**
 * ITF-14 (GS1 General Specifications): fourteen digits, bearer bars above and below so that a
 * slanted scan cannot read a part. The bearers lie at the bars' ends, over the quiet zones too.
 */
export function encodeItf14(payload: string | Uint8Array, options: ItfOptions = {}): MatrixSymbol {
  const text = checkItf14(payload, options);
  const quiet = 10;
  const bars = modulesOf(pairWidths(text, options.wide ?? 3));
  const row = new Uint8Array(bars.length + 2 * quiet);
  row.set(bars, quiet);
  const bearer = new Uint8Array(row.length).fill(1);
  const hri = `${text[0]} ${text.slice(1, 3)} ${text.slice(3, 8)} ${text.slice(8, 13)} ${text[13]}`;
  return rowsSymbol(
    'itf-14',
    text,
    [bearer, row, bearer],
    [4, 32, 4],
    1,
    sides(0),
    { digits: 14 },
    [{ text: hri, x: 0, width: row.length }],
  );
}
