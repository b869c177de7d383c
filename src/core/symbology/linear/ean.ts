import { EncodeError, type HriText, type MatrixSymbol, type SymbologyId } from '../types';
import { asText, gs1CheckDigit, rowsSymbol, sides, withCheckDigit } from './bars';

/** EAN/UPC (ISO/IEC 15420): seven modules a digit. Number set A; C is its complement, B is C reversed. */
const setA = ['0001101', '0011001', '0010011', '0111101', '0100011', '0110001', '0101111', '0111011', '0110111', '0001011'];
const setC = setA.map((pattern) => Array.from(pattern, (m) => (m === '1' ? '0' : '1')).join(''));
const setB = setC.map((pattern) => Array.from(pattern).reverse().join(''));

/** Which of the six left digits of EAN-13 are of set B, by the first digit. */
const leadingSets = ['AAAAAA', 'AABABB', 'AABBAB', 'AABBBA', 'ABAABB', 'ABBAAB', 'ABBBAA', 'ABABAB', 'ABABBA', 'ABBABA'];
/** Sets of the six digits of UPC-E in number system 0, by the check digit; system 1 is the other way round. */
const upcESets = ['BBBAAA', 'BBABAA', 'BBAABA', 'BBAAAB', 'BABBAA', 'BAABBA', 'BAAABB', 'BABABA', 'BABAAB', 'BAABAB'];

const digit = (value: string, set: string): string => (set === 'A' ? setA : set === 'B' ? setB : setC)[Number(value)];

/** Bars with guards five modules longer than the rest; lengths from 22.85 mm at a module of 0.33 mm. */
function guarded(
  symbology: SymbologyId,
  payload: string,
  parts: readonly [pattern: string, long: boolean][],
  height: number,
  left: number,
  right: number,
  hri: HriText[],
): MatrixSymbol {
  const all = parts.map(([pattern]) => pattern).join('');
  const guards = parts.map(([pattern, long]) => (long ? pattern : '0'.repeat(pattern.length))).join('');
  const row = (bits: string) => Uint8Array.from(bits, Number);
  return rowsSymbol(symbology, payload, [row(all), row(guards)], [height, 5], 0, sides(left, right), { digits: payload.length }, hri);
}

export const checkEan13 = (payload: string | Uint8Array): string => withCheckDigit(asText(payload), 13, 'EAN-13');

export function encodeEan13(payload: string | Uint8Array): MatrixSymbol {
  const digits = checkEan13(payload);
  const sets = leadingSets[Number(digits[0])];
  const left = Array.from(digits.slice(1, 7), (d, i) => digit(d, sets[i])).join('');
  const right = Array.from(digits.slice(7), (d) => digit(d, 'C')).join('');
  return guarded(
    'ean-13',
    digits,
    [
      ['101', true],
      [left, false],
      ['01010', true],
      [right, false],
      ['101', true],
    ],
    69,
    11,
    7,
    [
      { text: digits[0], x: -9, width: 7 },
      { text: digits.slice(1, 7), x: 3, width: 42, spread: true },
      { text: digits.slice(7), x: 50, width: 42, spread: true },
    ],
  );
}

export const checkEan8 = (payload: string | Uint8Array): string => withCheckDigit(asText(payload), 8, 'EAN-8');

export function encodeEan8(payload: string | Uint8Array): MatrixSymbol {
  const digits = checkEan8(payload);
  const half = (text: string, set: string) => Array.from(text, (d) => digit(d, set)).join('');
  return guarded(
    'ean-8',
    digits,
    [
      ['101', true],
      [half(digits.slice(0, 4), 'A'), false],
      ['01010', true],
      [half(digits.slice(4), 'C'), false],
      ['101', true],
    ],
    55,
    7,
    7,
    [
      { text: digits.slice(0, 4), x: 3, width: 28, spread: true },
      { text: digits.slice(4), x: 36, width: 28, spread: true },
    ],
  );
}

export const checkUpcA = (payload: string | Uint8Array): string => withCheckDigit(asText(payload), 12, 'UPC-A');

export function encodeUpcA(payload: string | Uint8Array): MatrixSymbol {
  const digits = checkUpcA(payload);
  const half = (text: string, set: string) => Array.from(text, (d) => digit(d, set));
  const left = half(digits.slice(0, 6), 'A');
  const right = half(digits.slice(6), 'C');
  // the first and the last digit have bars as long as the guards
  return guarded(
    'upc-a',
    digits,
    [
      [`101${left[0]}`, true],
      [left.slice(1).join(''), false],
      ['01010', true],
      [right.slice(0, 5).join(''), false],
      [`${right[5]}101`, true],
    ],
    69,
    9,
    9,
    [
      { text: digits[0], x: -8, width: 6 },
      { text: digits.slice(1, 6), x: 10, width: 35, spread: true },
      { text: digits.slice(6, 11), x: 50, width: 35, spread: true },
      { text: digits[11], x: 97, width: 6 },
    ],
  );
}

/** The twelve digits of UPC-A that a UPC-E of eight digits stands for (GS1 General Specifications, zero suppression). */
export function expandUpcE(eight: string): string {
  const [system, a, b, c, d, e, last, check] = eight;
  const body =
    last <= '2'
      ? `${a}${b}${last}0000${c}${d}${e}`
      : last === '3'
        ? `${a}${b}${c}00000${d}${e}`
        : last === '4'
          ? `${a}${b}${c}${d}00000${e}`
          : `${a}${b}${c}${d}${e}0000${last}`;
  return system + body + check;
}

/** Six digits, or seven with the number system, or eight with the check digit too; or twelve that can be shortened. */
export function checkUpcE(payload: string | Uint8Array): string {
  const text = asText(payload);
  if (!/^\d+$/.test(text) || ![6, 7, 8, 12].includes(text.length)) withCheckDigit(text, 8, 'UPC-E');
  const seven = text.length === 12 ? shorten(withCheckDigit(text, 12, 'UPC-E')) : text.length === 6 ? `0${text}` : text.slice(0, 7);
  if (seven[0] > '1')
    throw new EncodeError('character', `UPC-E begins with 0 or 1; this begins with ${seven[0]}.`, { position: 0, mend: 'Use UPC-A.' });
  const right = gs1CheckDigit(expandUpcE(`${seven}0`).slice(0, 11));
  if (text.length === 8 && text[7] !== right)
    throw new EncodeError('check-digit', `The check digit is ${text[7]}, but should be ${right}.`, {
      position: 7,
      mend: `Correct the last digit to ${right}.`,
    });
  return seven + right;
}

function shorten(twelve: string): string {
  for (let last = 0; last <= 9; last++) {
    const m = twelve.slice(1, 6);
    const p = twelve.slice(6, 11);
    const six =
      last <= 2
        ? m.slice(0, 2) + p.slice(2) + last
        : last === 3
          ? m.slice(0, 3) + p.slice(3) + last
          : last === 4
            ? m.slice(0, 4) + p.slice(4) + last
            : m + last;
    if (expandUpcE(twelve[0] + six + twelve[11]) === twelve) return twelve[0] + six;
  }
  throw new EncodeError('character', 'This number has too few zeros to be shortened to UPC-E.', { mend: 'Use UPC-A.' });
}

export function encodeUpcE(payload: string | Uint8Array): MatrixSymbol {
  const digits = checkUpcE(payload);
  const sets = Array.from(upcESets[Number(digits[7])], (set) => (digits[0] === '0' ? set : set === 'A' ? 'B' : 'A'));
  const middle = Array.from(digits.slice(1, 7), (d, i) => digit(d, sets[i])).join('');
  return guarded(
    'upc-e',
    digits,
    [
      ['101', true],
      [middle, false],
      ['010101', true],
    ],
    69,
    9,
    7,
    [
      { text: digits[0], x: -8, width: 6 },
      { text: digits.slice(1, 7), x: 3, width: 42, spread: true },
      { text: digits[7], x: 53, width: 6 },
    ],
  );
}
