import { placesOn, type Stock } from './stock';

const fractions: Readonly<Record<string, number>> = {
  '½': 1 / 2,
  '⅓': 1 / 3,
  '⅔': 2 / 3,
  '¼': 1 / 4,
  '¾': 3 / 4,
  '⅛': 1 / 8,
  '⅜': 3 / 8,
  '⅝': 5 / 8,
  '⅞': 7 / 8,
};

/** A number as people write measures: 63.5, 63,5, 2 5/8, 2⅝. */
const measure = /(\d+(?:[.,]\d+)?)?\s*(?:(\d+)\/(\d+)|([½⅓⅔¼¾⅛⅜⅝⅞]))|(\d+(?:[.,]\d+)?)/g;

interface Asked {
  words: string[];
  /** Lengths or counts; `mm` where a unit was given. */
  numbers: { value: number; unit?: 'mm' | 'in' }[];
}

function asked(query: string): Asked {
  const numbers: Asked['numbers'] = [];
  const text = query
    .toLowerCase()
    .replace(/″|"|inch(es)?\b/g, ' in')
    .replace(/\b(a\d)\b/g, '$1 ');
  // the names of paper sizes hold a digit and are words
  const rest = text
    .replace(/\ba\d\b/g, '·')
    .replace(
      measure,
      (
        found,
        whole?: string,
        top?: string,
        under?: string,
        sign?: string,
        plain?: string,
        at?: number,
      ) => {
        const number = (t: string | undefined) => Number((t ?? '0').replace(',', '.'));
        const value =
          plain !== undefined
            ? number(plain)
            : number(whole) + (top ? Number(top) / Number(under) : (fractions[sign ?? ''] ?? 0));
        const after = text.replace(/\ba\d\b/g, '·').slice((at ?? 0) + found.length);
        // a unit behind the second of two measures belongs to both
        const unit = /^\s*(?:mm|in)\b/.exec(after)?.[0].trim() ?? /\b(mm|in)\b/.exec(after)?.[1];
        if (Number.isFinite(value))
          numbers.push({ value, unit: unit === 'mm' || unit === 'in' ? unit : undefined });
        return ' ';
      },
    );
  const sizes = text.match(/\ba\d\b/g) ?? [];
  const words = rest
    .split(/[^\p{L}]+/u)
    .filter((w) => w !== '' && !['mm', 'in', 'x', 'by', 'of', 'on', 'and', 'the', 'a'].includes(w));
  return { words: [...sizes, ...words], numbers };
}

/**
 * Whether a stock matches some words or measures: "63.5", "2 5/8 in", "99 x 68", "21", "badge",
 * "roll". Every word and every measure must match; a number without a unit may be millimetres,
 * inches or the number on a sheet.
 */
export function stockIs(stock: Stock, about: string, query: string): boolean {
  const { words, numbers } = asked(query);
  const text = `${stock.name} ${about}`.toLowerCase();
  const lengths = [stock.piece.width, stock.piece.height, stock.page.width, stock.page.height];
  const length = (mm: number) => lengths.some((l) => Math.abs(l - mm) <= Math.max(0.6, l * 0.006));
  return (
    words.every((word) => new RegExp(`(^|[^\\p{L}])${word.replace(/s$/, '')}`, 'u').test(text)) &&
    numbers.every(({ value, unit }) => {
      if (unit === 'mm') return length(value);
      if (unit === 'in') return length(value * 25.4);
      return value === placesOn(stock) || length(value) || (value < 20 && length(value * 25.4));
    })
  );
}
