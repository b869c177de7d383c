/**
 * Widths of elements from a value, as the symbols of ISO/IEC 24724 use them: all ways to fill
 * `modules` with `elements` widths of 1 to `widest`, in ascending order, are numbered from 0.
 */
const counts = new Map<string, number>();

/** Number of ways; with `narrow` only those that have a width of 1 somewhere. */
function count(modules: number, elements: number, widest: number, narrow: boolean): number {
  if (modules < elements || modules > elements * widest) return 0;
  if (elements === 0) return narrow ? 0 : 1;
  const key = `${modules} ${elements} ${widest} ${narrow}`;
  let known = counts.get(key);
  if (known === undefined) {
    known = 0;
    for (let width = 1; width <= widest; width++)
      known += count(modules - width, elements - 1, widest, narrow && width > 1);
    counts.set(key, known);
  }
  return known;
}

/** The way with number `value`. @param narrow at least one element must be one module wide */
export function elementWidths(
  value: number,
  modules: number,
  elements: number,
  widest: number,
  narrow: boolean,
): number[] {
  const widths: number[] = [];
  let rest = value;
  let left = modules;
  let wanted = narrow;
  for (let k = elements; k > 0; k--)
    for (let width = 1; ; width++) {
      const ways = count(left - width, k - 1, widest, wanted && width > 1);
      if (rest < ways) {
        widths.push(width);
        left -= width;
        wanted &&= width > 1;
        break;
      }
      rest -= ways;
    }
  return widths;
}

/**
 * One way to split a data character's modules between its odd and even elements, from the value
 * `from` on.
 */
export interface Group {
  from: number;
  /** Number of ways of the part that changes fastest. */
  fast: number;
  odd: number;
  even: number;
  oddWidest: number;
  evenWidest: number;
}

export function groups(
  from: readonly number[],
  fast: readonly number[],
  odd: readonly number[],
  even: readonly number[],
  oddWidest: readonly number[],
  evenWidest: readonly number[],
): Group[] {
  return from.map((f, i) => ({
    from: f,
    fast: fast[i]!,
    odd: odd[i]!,
    even: even[i]!,
    oddWidest: oddWidest[i]!,
    evenWidest: evenWidest[i]!,
  }));
}

/**
 * Elements of a data character, odd and even ones in turn.
 * @param narrow which of the two must have an element of one module
 * @param evenFast whether the even elements change with every value, or the odd ones
 */
export function characterWidths(
  value: number,
  table: readonly Group[],
  elements: number,
  narrow: 'odd' | 'even',
  evenFast: boolean,
): number[] {
  const group = table.findLast((g) => value >= g.from)!;
  const rest = value - group.from;
  const slow = Math.floor(rest / group.fast);
  const fast = rest % group.fast;
  const odd = elementWidths(
    evenFast ? slow : fast,
    group.odd,
    elements,
    group.oddWidest,
    narrow === 'odd',
  );
  const even = elementWidths(
    evenFast ? fast : slow,
    group.even,
    elements,
    group.evenWidest,
    narrow === 'even',
  );
  return odd.flatMap((width, i) => [width, even[i]!]);
}

export const reversed = (widths: readonly number[]): number[] => [...widths].reverse();

/** Weighted sum of widths; weights are the powers of 3 modulo `modulus`, from `first` on. */
export function weighted(widths: readonly number[], modulus: number, first: number): number {
  let weight = 1;
  for (let i = 0; i < first; i++) weight = (weight * 3) % modulus;
  let sum = 0;
  for (const width of widths) {
    sum += width * weight;
    weight = (weight * 3) % modulus;
  }
  return sum % modulus;
}
