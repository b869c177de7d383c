import { gs1CheckDigit } from '../../base/check-digit';
import {
  EncodeError,
  type HriText,
  type MatrixSymbol,
  type QuietZone,
  type SymbolFacts,
  type SymbologyId,
} from '../types';

/** Height of bars in modules when the look does not say; about what hand-held readers like. */
const usualHeight = (columns: number): number => Math.max(24, Math.round(columns * 0.25));

/** Turns widths of bars and spaces in turn, beginning with a bar, into a row of modules. */
export function modulesOf(widths: readonly number[]): Uint8Array {
  const modules = new Uint8Array(widths.reduce((a, b) => a + b, 0));
  let at = 0;
  widths.forEach((width, i) => {
    if (i % 2 === 0) modules.fill(1, at, at + width);
    at += width;
  });
  return modules;
}

export const widthsOf = (pattern: string): number[] => Array.from(pattern, Number);

/** A linear symbol: one row of bars, as high as the look wants it. */
export function linearSymbol(
  symbology: SymbologyId,
  payload: string,
  widths: readonly number[],
  quiet: number,
  facts: SymbolFacts,
  hri: string,
): MatrixSymbol {
  const modules = modulesOf(widths);
  return {
    kind: 'matrix',
    symbology,
    columns: modules.length,
    rows: 1,
    modules,
    rowHeights: [usualHeight(modules.length)],
    stretchRow: 0,
    quietZone: sides(quiet),
    hri: [{ text: hri, x: 0, width: modules.length }],
    payload,
    facts,
  };
}

export const sides = (left: number, right = left): QuietZone => ({
  top: 0,
  bottom: 0,
  left,
  right,
});

/** Rows of modules with heights of their own, for symbols whose bars are not all equally long. */
export function rowsSymbol(
  symbology: SymbologyId,
  payload: string,
  rows: readonly Uint8Array[],
  rowHeights: number[],
  stretchRow: number,
  quietZone: QuietZone,
  facts: SymbolFacts,
  hri: HriText[],
): MatrixSymbol {
  const columns = rows[0]!.length;
  const modules = new Uint8Array(columns * rows.length);
  rows.forEach((row, i) => modules.set(row, i * columns));
  return {
    kind: 'matrix',
    symbology,
    columns,
    rows: rows.length,
    modules,
    rowHeights,
    stretchRow,
    quietZone,
    hri,
    payload,
    facts,
  };
}

/** Linear symbologies say text; bytes are given as Latin-1. */
export function asText(payload: string | Uint8Array): string {
  const text =
    typeof payload === 'string'
      ? payload
      : Array.from(payload, (b) => String.fromCharCode(b)).join('');
  if (text === '')
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  return text;
}

/** Refuses the first character outside a set, naming it and its place. */
export function requireCharacters(
  text: string,
  allowed: RegExp,
  name: string,
  what: string,
  mend: string,
): void {
  for (let i = 0; i < text.length; i++)
    if (!allowed.test(text[i]!)) {
      const character =
        text.charCodeAt(i) < 32
          ? `control character ${text.charCodeAt(i)}`
          : `“${Array.from(text.slice(i))[0]}”`;
      throw new EncodeError(
        'character',
        `${name} cannot say ${character} at place ${i + 1}; it holds ${what}.`,
        { position: i, mend },
      );
    }
}

export interface CheckDigitOptions {
  /**
   * The payload lacks its GS1 check digit, which is calculated and added. If undefined, the payload
   * is the whole number. The length does not decide: 13 digits may be a whole GTIN-13 with a
   * mistake in it as well as a GTIN-14 without its check digit.
   */
  addCheckDigit?: boolean;
}

/**
 * The digits of a GS1 number of `length`. Its check digit is verified, or added if the options say
 * that it is missing. A whole number is verified in either case.
 * @throws EncodeError for other characters, other lengths and a wrong check digit, each with its
 *   fix
 */
export function withCheckDigit(
  text: string,
  length: number,
  name: string,
  { addCheckDigit = false }: CheckDigitOptions = {},
): string {
  const bare = text.replace(/[\s-]/g, '');
  if (bare !== text && /^\d*$/.test(bare)) {
    const position = text.search(/[\s-]/);
    throw new EncodeError(
      'character',
      `${name} holds digits only; there is ${/\s/.test(text[position]!) ? 'a space' : 'a hyphen'} at place ${position + 1}.`,
      { position, mend: 'Remove hyphens and spaces.' },
    );
  }
  requireCharacters(text, /\d/, name, 'digits only', 'Remove it, or use another code type.');
  if (text.length === length - 1 && addCheckDigit) return text + gs1CheckDigit(text);
  if (text.length !== length) {
    const short = length - text.length;
    const mend =
      short < 0
        ? `Shorten it by ${-short}, or use another code type.`
        : short === 1 && !addCheckDigit
          ? 'If zeros were lost, put a 0 in front. If the check digit is missing, choose “add the check digit” next to the code type.'
          : 'If zeros were lost, put them back in front. If not, use another code type.';
    throw new EncodeError(
      'length',
      `${name} has ${length} digits${addCheckDigit ? `, or ${length - 1} before the check digit is added` : ' with its check digit'}; this has ${text.length}.`,
      { mend },
    );
  }
  const right = gs1CheckDigit(text.slice(0, -1));
  if (text.at(-1) !== right)
    throw new EncodeError(
      'check-digit',
      `The check digit is ${text.at(-1)}, but should be ${right}.`,
      {
        position: length - 1,
        mend: `Correct the last digit to ${right}.`,
      },
    );
  return text;
}
