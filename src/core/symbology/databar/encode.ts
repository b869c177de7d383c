import {
  bracketed,
  elementString,
  parseElements,
  separator,
  type Gs1Element,
} from '../gs1/elements';
import { asText, modulesOf, sides, withCheckDigit, type CheckDigitOptions } from '../linear/bars';
import { EncodeError, type ExpectedRead, type MatrixSymbol } from '../types';
import { expandedSegments, expandedValues } from './expanded';
import { separatorRow, stackRows, type Row } from './stack';
import { characterWidths, elementWidths, groups, reversed, weighted } from './widths';

export const databarForms = [
  'omnidirectional',
  'stacked',
  'stacked-omnidirectional',
  'limited',
  'expanded',
  'expanded-stacked',
] as const;
export type DatabarForm = (typeof databarForms)[number];

export interface DatabarOptions extends CheckDigitOptions {
  /**
   * Form of GS1 DataBar. Left out: omnidirectional for a product number alone, expanded for an
   * element string.
   */
  databar?: DatabarForm;
  /**
   * Segments in a row of the expanded stacked form, an even number from 2 to 20; 4 when left out.
   */
  segmentsPerRow?: number;
}

const outside = groups(
  [0, 161, 961, 2015, 2715],
  [1, 10, 34, 70, 126],
  [12, 10, 8, 6, 4],
  [4, 6, 8, 10, 12],
  [8, 6, 4, 3, 1],
  [1, 3, 5, 6, 8],
);
const inside = groups(
  [0, 336, 1036, 1516],
  [4, 20, 48, 81],
  [5, 7, 9, 11],
  [10, 8, 6, 4],
  [2, 4, 6, 8],
  [7, 5, 3, 1],
);
const limited = groups(
  [0, 183064, 820064, 1000776, 1491021, 1979845, 1996939],
  [28, 728, 6454, 203, 2408, 1, 16632],
  [17, 13, 9, 15, 11, 19, 7],
  [9, 13, 17, 11, 15, 7, 19],
  [6, 5, 3, 5, 4, 8, 1],
  [3, 4, 6, 4, 5, 1, 8],
);
const finders = [
  [3, 8, 2, 1, 1],
  [3, 5, 5, 1, 1],
  [3, 3, 7, 1, 1],
  [3, 1, 9, 1, 1],
  [2, 7, 4, 1, 1],
  [2, 5, 6, 1, 1],
  [2, 3, 8, 1, 1],
  [1, 5, 7, 1, 1],
  [1, 3, 9, 1, 1],
];

/** Modules of widths in turn beginning with a space. */
function fromSpace(widths: readonly number[]): Uint8Array {
  const row = modulesOf(widths);
  for (let i = 0; i < row.length; i++) row[i]! ^= 1;
  return row;
}

/** The lengths of a product number: GTIN-8, GTIN-12, GTIN-13 and GTIN-14. */
const gtinLengths = [8, 12, 13, 14];

/**
 * The 14 digits of a product number, from a whole GTIN or `(01)…`; shorter ones are padded with
 * zeros, as the standard prescribes. One without its check digit is accepted if the options say so.
 */
function gtin(payload: string, options: DatabarOptions): string {
  const text = payload.startsWith('(01)') ? payload.slice(4) : payload;
  const offset = payload.length - text.length;
  // whole numbers of 12 and 13 digits could lack a check digit too: only the options tell
  const lacks = options.addCheckDigit && text.length !== 8 && text.length !== 14 ? 1 : 0;
  const whole = text.length + lacks;
  try {
    return withCheckDigit(
      text,
      gtinLengths.includes(whole) ? whole : 14,
      'GS1 DataBar',
      options,
    ).padStart(14, '0');
  } catch (error) {
    if (error instanceof EncodeError && error.position !== undefined)
      throw new EncodeError(error.kind, error.message, {
        position: error.position + offset,
        mend: error.mend,
      });
    throw error;
  }
}

function omniHalves(digits: string): { left: number[]; right: number[]; rightFinder: number } {
  const value = Number(digits);
  const halves = [Math.floor(value / 4537077), value % 4537077];
  const [c1, c2, c3, c4] = halves.flatMap((half) => [Math.floor(half / 1597), half % 1597]);
  const outer = (v: number) => characterWidths(v, outside, 4, 'even', true);
  const inner = (v: number) => characterWidths(v, inside, 4, 'odd', false);
  const widths = [outer(c1!), inner(c2!), outer(c3!), inner(c4!)] as const;
  let sum = widths.reduce((total, w, i) => total + weighted(w, 79, i * 8), 0) % 79;
  if (sum >= 8) sum++;
  if (sum >= 72) sum++;
  const [a, b, c, d] = widths;
  return {
    left: [1, 1, ...a!, ...finders[Math.floor(sum / 9)]!, ...reversed(b)],
    right: [...d!, ...reversed(finders[sum % 9]!), ...reversed(c), 1, 1],
    rightFinder: sum % 9,
  };
}

/**
 * Check characters of the limited form: of the 21 × 21 ways to fill eight modules with six odd and
 * six even elements of at most 3, those that the standard takes for the remainders 0 to 88. Proven
 * for all 89 (tests/core/symbology/databar.test.ts).
 */
const limitedChecks = (
  [
    [0, 43],
    [45, 45],
    [52, 52],
    [57, 57],
    [63, 66],
    [73, 79],
    [82, 82],
    [126, 130],
    [132, 132],
    [141, 146],
    [210, 217],
    [220, 220],
    [316, 320],
    [322, 323],
    [326, 326],
    [337, 337],
  ] as const
).flatMap(([from, to]) => Array.from({ length: to - from + 1 }, (_, i) => from + i));

function limitedWidths(digits: string): number[] {
  const value = Number(digits);
  if (value > 1999999999999)
    throw new EncodeError(
      'character',
      'The limited form of GS1 DataBar holds product numbers that begin with 0 or 1.',
      {
        position: 0,
        mend: 'Use the omnidirectional or the stacked form.',
      },
    );
  const character = (v: number) => characterWidths(v, limited, 7, 'even', true);
  const left = character(Math.floor(value / 2013571));
  const right = character(value % 2013571);
  const sum = (weighted(left, 89, 0) + weighted(right, 89, 14)) % 89;
  const way = limitedChecks[sum]!;
  const odd = elementWidths(Math.floor(way / 21), 8, 6, 3, false);
  const even = elementWidths(way % 21, 8, 6, 3, false);
  const check = [...odd.flatMap((width, i) => [width, even[i]!]), 1, 1];
  return [1, 1, ...left, ...check, ...right, 1, 1, 5];
}

const formOf = (payload: string, options: DatabarOptions): DatabarForm =>
  options.databar ?? (/^(\(01\))?\d*$/.test(payload) ? 'omnidirectional' : 'expanded');

/**
 * The elements that a payload is: a product number alone, or elements with their identifiers in
 * brackets or with the separators of scanned data. Other text is no GS1 data, even if its first
 * digits happen to be an identifier.
 */
function elementsOf(text: string, options: DatabarOptions): Gs1Element[] {
  if (/^(\(01\))?\d{1,14}$/.test(text)) return [{ ai: '01', value: gtin(text, options) }];
  if (!/^(\(|\d+$)/.test(text) && !text.includes(separator))
    throw new EncodeError(
      'character',
      'GS1 DataBar holds a product number, or values with their GS1 identifiers; this has none.',
      { position: 0, mend: 'Write it as (01)…(10)…, or use another code type.' },
    );
  return parseElements(text);
}

/** The content of the symbol: the elements, identifiers in brackets. */
export const databarHolds = (payload: string, options: DatabarOptions = {}): string =>
  bracketed(elementsOf(payload, options));

/** Checks a payload for a form of GS1 DataBar and works out its rows. */
export function planDatabar(
  payload: string | Uint8Array,
  options: DatabarOptions = {},
): { form: DatabarForm; rows: Row[]; hri: string } {
  const text = asText(payload);
  const form = formOf(text, options);
  if (form === 'expanded' || form === 'expanded-stacked') {
    const elements = elementsOf(text, options);
    const hri = bracketed(elements);
    const perRow = options.segmentsPerRow ?? 4;
    if (
      form === 'expanded-stacked' &&
      !(Number.isInteger(perRow) && perRow % 2 === 0 && perRow >= 2 && perRow <= 20)
    )
      throw new EncodeError('option', 'Segments in a row are an even number from 2 to 20.', {
        mend: 'Use 4.',
      });
    if (form === 'expanded') {
      const segments = expandedSegments(expandedValues(elements));
      const widths = [1, 1, ...segments.flatMap((s) => [...s.widths, ...(s.finder ?? [])]), 1, 1];
      return { form, hri, rows: [{ modules: fromSpace(widths), height: 34 }] };
    }
    return {
      form,
      hri,
      rows: stackRows(expandedSegments(expandedValues(elements, perRow)), perRow),
    };
  }
  const whole = gtin(text, options);
  const digits = whole.slice(0, 13);
  const hri = `(01)${whole}`;
  if (form === 'limited')
    return { form, hri, rows: [{ modules: fromSpace(limitedWidths(digits)), height: 33 }] };
  const { left, right, rightFinder } = omniHalves(digits);
  if (form === 'omnidirectional')
    return { form, hri, rows: [{ modules: fromSpace([...left, ...right]), height: 33 }] };
  const top = fromSpace([...left, 1, 1]);
  const bottom = modulesOf([1, 1, ...right]);
  if (form === 'stacked') {
    const between = new Uint8Array(50);
    for (let i = 1; i < 46; i++)
      between[i] = top[i] === bottom[i] ? 1 - top[i]! : 1 - between[i - 1]!;
    between.fill(0, 0, 4);
    return {
      form,
      hri,
      rows: [
        { modules: top, height: 5 },
        { modules: between, height: 1 },
        { modules: bottom, height: 7 },
      ],
    };
  }
  const under = separatorRow(bottom, [[19, 32]], 4, 46);
  // beside this finder the last dark module would make a finder of the separator; the standard
  // moves it on by one
  if (rightFinder === 3) [under[28], under[29]] = [0, 1];
  const middle = Uint8Array.from({ length: 50 }, (_, i) => (i >= 4 && i < 46 ? i % 2 : 0));
  return {
    form,
    hri,
    rows: [
      { modules: top, height: 33 },
      { modules: separatorRow(top, [[18, 31]], 4, 46), height: 1 },
      { modules: middle, height: 1 },
      { modules: under, height: 1 },
      { modules: bottom, height: 33 },
    ],
  };
}

/**
 * Encodes a product number or a GS1 element string as GS1 DataBar (ISO/IEC 24724). Tables and rules
 * proven by module comparison of all six forms with an independent writer
 * (tests/core/symbology/databar.test.ts).
 */
export function encodeDatabar(
  payload: string | Uint8Array,
  options: DatabarOptions = {},
): MatrixSymbol {
  const { form, rows, hri } = planDatabar(payload, options);
  const columns = rows[0]!.modules.length;
  const modules = new Uint8Array(columns * rows.length);
  rows.forEach((row, i) => modules.set(row.modules, i * columns));
  return {
    kind: 'matrix',
    symbology: 'gs1-databar',
    columns,
    rows: rows.length,
    modules,
    rowHeights: rows.map((row) => row.height),
    stretchRow: rows.length === 1 ? 0 : undefined,
    quietZone: sides(1),
    hri: [{ text: hri, x: 0, width: columns }],
    payload: hri,
    facts: { form },
  };
}

/** Readers give the elements one after the other, without the brackets. */
export function expectedDatabarRead(symbol: MatrixSymbol): ExpectedRead {
  const form = symbol.facts.form as DatabarForm;
  const format =
    form === 'limited' ? 'DataBarLtd' : form.startsWith('expanded') ? 'DataBarExp' : 'DataBar';
  const text = elementString(parseElements(asText(symbol.payload)));
  return { format, text, identifier: ']e0' };
}
