import { elementString, type Gs1Element } from '../gs1/elements';
import { EncodeError } from '../types';
import { compact, finish, fnc1 } from './compaction';
import { characterWidths, groups, reversed, weighted } from './widths';

const expanded = groups(
  [0, 348, 1388, 2948, 3988],
  [4, 20, 52, 104, 204],
  [12, 10, 8, 6, 4],
  [5, 7, 9, 11, 13],
  [7, 5, 4, 3, 1],
  [2, 4, 5, 6, 8],
);

/** Finder patterns A to F of the expanded form. */
const expandedFinders: Record<string, number[]> = {
  A: [1, 8, 4, 1, 1],
  B: [3, 6, 4, 1, 1],
  C: [3, 4, 6, 1, 1],
  D: [3, 2, 8, 1, 1],
  E: [2, 6, 5, 1, 1],
  F: [2, 2, 9, 1, 1],
};

/** Order of the finders by their number, from 2 to 11; a 2 after the letter means reversed. */
const finderOrders = [
  'A1 A2',
  'A1 B2 B1',
  'A1 C2 B1 D2',
  'A1 E2 B1 D2 C1',
  'A1 E2 B1 D2 D1 F2',
  'A1 E2 B1 D2 E1 F2 F1',
  'A1 A2 B1 B2 C1 C2 D1 D2',
  'A1 A2 B1 B2 C1 C2 D1 E2 E1',
  'A1 A2 B1 B2 C1 C2 D1 E2 F1 F2',
  'A1 A2 B1 B2 C1 D2 D1 E2 E1 F2 F1',
].map((order) => order.split(' '));

const bitsOf = (value: number, count: number): string => value.toString(2).padStart(count, '0');
/** Digits in threes, ten bits each. */
const tens = (digits: string): string =>
  digits
    .match(/.{3}/g)!
    .map((three) => bitsOf(Number(three), 10))
    .join('');

/**
 * The compressed field of an element string: the part before the variable length bits, the part
 * after them, and what is left to compact.
 */
function encodationMethod(elements: readonly Gs1Element[]): {
  header: string;
  variable: boolean;
  field: string;
  rest: string;
} {
  const [first, second, third] = elements;
  if (first?.ai !== '01')
    return { header: '00', variable: true, field: '', rest: elementString(elements) };
  const number = first.value.slice(0, 13);
  if (number[0] === '9' && second) {
    const product = tens(number.slice(1));
    const weight = Number(second.value);
    const place = Number(second.ai[3]);
    const metric = /^310\d$/.test(second.ai);
    if (elements.length === 2) {
      if (second.ai === '3103' && weight <= 32767)
        return { header: '0100', variable: false, field: product + bitsOf(weight, 15), rest: '' };
      if (second.ai === '3202' && weight <= 9999)
        return { header: '0101', variable: false, field: product + bitsOf(weight, 15), rest: '' };
      if (second.ai === '3203' && weight <= 22767)
        return {
          header: '0101',
          variable: false,
          field: product + bitsOf(weight + 10000, 15),
          rest: '',
        };
    }
    if ((metric || /^320\d$/.test(second.ai)) && weight <= 99999) {
      const dates = ['11', '13', '15', '17'];
      const dated = elements.length === 3 && third && dates.includes(third.ai);
      if (elements.length === 2 || dated) {
        const [y = 0, m = 0, d = 0] = dated ? third.value.match(/../g)!.map(Number) : [];
        const date = dated ? y * 384 + (m - 1) * 32 + d : 38400;
        const kind = (dated ? dates.indexOf(third.ai) * 2 : 0) + (metric ? 0 : 1);
        return {
          header: `0111${bitsOf(kind, 3)}`,
          variable: false,
          field: product + bitsOf(place * 100000 + weight, 20) + bitsOf(date, 16),
          rest: '',
        };
      }
    }
    const after = second.ai.startsWith('392')
      ? second.value
      : second.ai.startsWith('393')
        ? second.value.slice(3)
        : undefined;
    // the price follows without its identifier; a place beyond three decimals has no bits for it
    if (after !== undefined && place <= 3) {
      const more = elements.length > 2 ? `${fnc1}${elementString(elements.slice(2))}` : '';
      const currency = second.ai.startsWith('393')
        ? bitsOf(Number(second.value.slice(0, 3)), 10)
        : '';
      return {
        header: currency ? '01101' : '01100',
        variable: true,
        field: product + bitsOf(place, 2) + currency,
        rest: after + more,
      };
    }
  }
  return {
    header: '1',
    variable: true,
    field: bitsOf(Number(number[0]), 4) + tens(number.slice(1)),
    rest: elementString(elements.slice(1)),
  };
}

/** Most data characters of the expanded form, without the check character. */
const mostCharacters = 21;

/**
 * Values of the data characters of an element string. @param rowOf segments in a row, when stacked
 */
export function expandedValues(elements: readonly Gs1Element[], rowOf?: number): number[] {
  const { header, variable, field, rest } = encodationMethod(elements);
  const before = 1 + header.length + (variable ? 2 : 0) + field.length;
  const compacted = compact(rest);
  for (let characters = 3; characters <= mostCharacters; characters++) {
    // a row of a single segment is not allowed
    if (rowOf && (characters + 1) % rowOf === 1) continue;
    const capacity = characters * 12;
    // without a general part it ends with zeros; the others are padded by the rules of the
    // encodation they end in
    const end = variable
      ? finish(compacted, before, capacity)
      : before <= capacity
        ? '0'.repeat(capacity - before)
        : undefined;
    if (end === undefined) continue;
    const lengths = variable ? `${(characters + 1) % 2}${characters + 1 > 14 ? 1 : 0}` : '';
    const stream = `0${header}${lengths}${field}${end}`;
    return Array.from({ length: characters }, (_, i) =>
      parseInt(stream.slice(i * 12, i * 12 + 12), 2),
    );
  }
  throw new EncodeError(
    'length',
    'Too long for a GS1 DataBar Expanded, which holds at most 74 digits or 41 letters.',
    {
      mend: 'Shorten it, or use GS1 Data Matrix.',
    },
  );
}

/**
 * Segments of the expanded form: a character of eight elements on each side of a finder, in turn.
 */
export interface Segment {
  widths: number[];
  finder?: number[];
}

export function expandedSegments(values: readonly number[]): Segment[] {
  const characters = values.map((v) => characterWidths(v, expanded, 4, 'odd', true));
  const order = finderOrders[Math.ceil((values.length + 1) / 2) - 2]!;
  // the power of 3 from which a character's weights go depends on the finder beside it and the side
  const firstWeight = order.flatMap((name) => {
    const pairNumber = (name.charCodeAt(0) - 65) * 4 + (name[1] === '2' ? 2 : 0);
    return [pairNumber - 1, pairNumber];
  });
  let sum = 0;
  characters.forEach((widths, i) => (sum += weighted(widths, 211, firstWeight[i + 1]! * 8)));
  const check = characterWidths(
    211 * (values.length + 1 - 4) + (sum % 211),
    expanded,
    4,
    'odd',
    true,
  );
  return [check, ...characters].map((widths, i) => {
    if (i % 2 === 1) return { widths: reversed(widths) };
    const name = order[i / 2]!;
    const finder = expandedFinders[name[0]!]!;
    return { widths, finder: name[1] === '2' ? reversed(finder) : finder };
  });
}
