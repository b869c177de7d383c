import { mapped } from '../../base/tuple';
import { gs1CheckDigit } from '../../base/check-digit';
import { EncodeError, type HriText, type MatrixSymbol, type SymbologyId } from '../types';
import { asText, rowsSymbol, sides, withCheckDigit, type CheckDigitOptions } from './bars';

/**
 * EAN/UPC (ISO/IEC 15420): seven modules a digit. Number set A; C is its complement, B is C
 * reversed.
 */
const setA = [
  '0001101',
  '0011001',
  '0010011',
  '0111101',
  '0100011',
  '0110001',
  '0101111',
  '0111011',
  '0110111',
  '0001011',
];
const setC = setA.map((pattern) => Array.from(pattern, (m) => (m === '1' ? '0' : '1')).join(''));
const setB = setC.map((pattern) => Array.from(pattern).reverse().join(''));

/** Which of the six left digits of EAN-13 are of set B, by the first digit. */
const leadingSets = [
  'AAAAAA',
  'AABABB',
  'AABBAB',
  'AABBBA',
  'ABAABB',
  'ABBAAB',
  'ABBBAA',
  'ABABAB',
  'ABABBA',
  'ABBABA',
];
/**
 * Sets of the six digits of UPC-E in number system 0, by the check digit; system 1 is the other way
 * round.
 */
const upcESets = [
  'BBBAAA',
  'BBABAA',
  'BBAABA',
  'BBAAAB',
  'BABBAA',
  'BAABBA',
  'BAAABB',
  'BABABA',
  'BABAAB',
  'BAABAB',
];

const digit = (value: string, set: string): string =>
  (set === 'A' ? setA : set === 'B' ? setB : setC)[Number(value)]!;

export interface EanOptions extends CheckDigitOptions {
  /**
   * Two or five digits beside the symbol, such as an issue number. May also follow the payload
   * after a plus sign.
   */
  addOn?: string;
}

type DigitsOf = (text: string, options?: CheckDigitOptions) => string;

/** Sets of the digits of an add-on: of two by their value modulo 4, of five by their check sum. */
const addOnSets = {
  2: ['AA', 'AB', 'BA', 'BB'],
  5: ['BBAAA', 'BABAA', 'BAABA', 'BAAAB', 'ABBAA', 'AABBA', 'AAABB', 'ABABA', 'ABAAB', 'AABAB'],
};

/** Light modules between a symbol and its add-on. */
const addOnGap = 9;
/** Modules at the top of an add-on that its digits take. */
const addOnHri = 9;

/** The digits of a payload and those of its add-on. */
function splitAddOn(
  payload: string | Uint8Array,
  { addOn }: EanOptions = {},
): { main: string; addOn?: string } {
  const text = asText(payload);
  const plus = text.indexOf('+');
  const main = plus < 0 ? text : text.slice(0, plus);
  const digits = plus < 0 ? addOn : text.slice(plus + 1);
  if (digits !== undefined && digits !== '' && !/^(\d{2}|\d{5})$/.test(digits))
    throw new EncodeError('length', `An add-on has two or five digits; this is “${digits}”.`, {
      position: plus < 0 ? undefined : plus + 1,
      mend: 'Pad it to two or five digits with zeros in front.',
    });
  return { main, addOn: digits === '' ? undefined : digits };
}

function addOnModules(digits: string): string {
  const [a, b, c, d, e] = Array.from(digits, Number);
  const sets =
    digits.length === 2
      ? addOnSets[2][Number(digits) % 4]!
      : addOnSets[5][(3 * (a! + c! + e!) + 9 * (b! + d!)) % 10]!;
  return `1011${Array.from(digits, (value, i) => digit(value, sets[i]!)).join('01')}`;
}

/**
 * Puts an add-on beside a finished symbol: its bars reach from below its digits down to the end of
 * the guards.
 */
function withAddOn(symbol: MatrixSymbol, addOn: string | undefined): MatrixSymbol {
  if (addOn === undefined) return symbol;
  const extra = addOnModules(addOn);
  const columns = symbol.columns + addOnGap + extra.length;
  const [bars, guards] = mapped([0, 1], (r) =>
    symbol.modules.subarray(r * symbol.columns, (r + 1) * symbol.columns),
  );
  const row = (main: Uint8Array, beside: boolean) => {
    const out = new Uint8Array(columns);
    out.set(main);
    if (beside) out.set(Uint8Array.from(extra, Number), symbol.columns + addOnGap);
    return out;
  };
  const [height, long] = symbol.rowHeights!;
  const hri: HriText[] = [
    ...symbol.hri!,
    { text: addOn, x: symbol.columns + addOnGap, width: extra.length, spread: true, top: 0 },
  ];
  const rows = [row(bars, false), row(bars, true), row(guards, true)];
  const facts = { ...symbol.facts, addOn };
  return rowsSymbol(
    symbol.symbology,
    `${String(symbol.payload)}+${addOn}`,
    rows,
    [addOnHri, height! - addOnHri, long!],
    1,
    sides(symbol.quietZone.left, 5),
    facts,
    hri,
  );
}

/**
 * Bars with guards five modules longer than the rest; lengths from 22.85 mm at a module of 0.33 mm.
 */
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
  const guards = parts
    .map(([pattern, long]) => (long ? pattern : '0'.repeat(pattern.length)))
    .join('');
  const row = (bits: string) => Uint8Array.from(bits, Number);
  return rowsSymbol(
    symbology,
    payload,
    [row(all), row(guards)],
    [height, 5],
    0,
    sides(left, right),
    { digits: payload.length },
    hri,
  );
}

const ean13Digits: DigitsOf = (text, options) => withCheckDigit(text, 13, 'EAN-13', options);

function drawEan13(digits: string): MatrixSymbol {
  const sets = leadingSets[Number(digits[0])]!;
  const left = Array.from(digits.slice(1, 7), (d, i) => digit(d, sets[i]!)).join('');
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
      { text: digits[0]!, x: -9, width: 7 },
      { text: digits.slice(1, 7), x: 3, width: 42, spread: true },
      { text: digits.slice(7), x: 50, width: 42, spread: true },
    ],
  );
}

const ean8Digits: DigitsOf = (text, options) => withCheckDigit(text, 8, 'EAN-8', options);

function drawEan8(digits: string): MatrixSymbol {
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

const upcADigits: DigitsOf = (text, options) => withCheckDigit(text, 12, 'UPC-A', options);

function drawUpcA(digits: string): MatrixSymbol {
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
      { text: digits[0]!, x: -8, width: 6 },
      { text: digits.slice(1, 6), x: 10, width: 35, spread: true },
      { text: digits.slice(6, 11), x: 50, width: 35, spread: true },
      { text: digits[11]!, x: 97, width: 6 },
    ],
  );
}

/**
 * The twelve digits of UPC-A for a UPC-E of eight digits (GS1 General Specifications, zero
 * suppression).
 */
export function expandUpcE(eight: string): string {
  const [system, a, b, c, d, e, last, check] = eight;
  const body =
    last! <= '2'
      ? `${a}${b}${last}0000${c}${d}${e}`
      : last === '3'
        ? `${a}${b}${c}00000${d}${e}`
        : last === '4'
          ? `${a}${b}${c}${d}00000${e}`
          : `${a}${b}${c}${d}${e}0000${last}`;
  return system + body + check;
}

/**
 * Eight digits, or twelve that can be shortened; without the check digit also six, or seven with
 * the number system.
 */
function upcEDigits(text: string, options: CheckDigitOptions = {}): string {
  const lengths = options.addCheckDigit ? [6, 7, 8, 11, 12] : [8, 12];
  if (!/^\d+$/.test(text) || !lengths.includes(text.length))
    withCheckDigit(text, 8, 'UPC-E', options);
  const seven =
    text.length >= 11
      ? shorten(withCheckDigit(text, 12, 'UPC-E', options))
      : text.length === 6
        ? `0${text}`
        : text.slice(0, 7);
  if (seven[0]! > '1')
    throw new EncodeError('character', `UPC-E begins with 0 or 1; this begins with ${seven[0]}.`, {
      position: 0,
      mend: 'Use UPC-A.',
    });
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
  throw new EncodeError('character', 'This number has too few zeros to be shortened to UPC-E.', {
    mend: 'Use UPC-A.',
  });
}

function drawUpcE(digits: string): MatrixSymbol {
  const sets = Array.from(upcESets[Number(digits[7])]!, (set) =>
    digits[0] === '0' ? set : set === 'A' ? 'B' : 'A',
  );
  const middle = Array.from(digits.slice(1, 7), (d, i) => digit(d, sets[i]!)).join('');
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
      { text: digits[0]!, x: -8, width: 6 },
      { text: digits.slice(1, 7), x: 3, width: 42, spread: true },
      { text: digits[7]!, x: 53, width: 6 },
    ],
  );
}

/**
 * One of the four product number symbologies, with or without an add-on: its check and its encoder.
 */
function product(digitsOf: DigitsOf, draw: (digits: string) => MatrixSymbol) {
  return {
    /** The content of the symbol, with check digit and add-on. */
    holds(payload: string, options: EanOptions = {}): string {
      const { main, addOn } = splitAddOn(payload, options);
      return digitsOf(main, options) + (addOn === undefined ? '' : `+${addOn}`);
    },
    check(
      payload: string | Uint8Array,
      options: EanOptions = {},
    ): { digits: string; addOn?: string } {
      const { main, addOn } = splitAddOn(payload, options);
      return { digits: digitsOf(main, options), addOn };
    },
    encode(payload: string | Uint8Array, options: EanOptions = {}): MatrixSymbol {
      const { main, addOn } = splitAddOn(payload, options);
      return withAddOn(draw(digitsOf(main, options)), addOn);
    },
  };
}

export const ean13 = product(ean13Digits, drawEan13);
export const ean8 = product(ean8Digits, drawEan8);
export const upcA = product(upcADigits, drawUpcA);
export const upcE = product(upcEDigits, drawUpcE);
