/** How deep orders may start one another. */
export const deepest = 4;

/**
 * Whether an order may start from an event. Its own work, also by way of others, never starts it
 * again.
 * @param chain orders that caused the event, the first of them first; empty if a person or a
 *   program did
 */
export function mayStart(
  order: number,
  chain: readonly number[],
): { starts: true } | { starts: false; why: string } {
  if (chain.at(-1) === order)
    return { starts: false, why: 'it is this order’s own work, which never starts it again' };
  if (chain.includes(order))
    return {
      starts: false,
      why: 'this order caused it through others, so it does not start again',
    };
  if (chain.length >= deepest)
    return {
      starts: false,
      why: `it was caused by ${deepest} orders one after the other, and no further order starts from it`,
    };
  return { starts: true };
}

/** The chain of orders for work that an order does after an event. */
export const chainOf = (order: number, chain: readonly number[]): number[] => [...chain, order];

export type Change = 'came' | 'changed' | 'went';

/**
 * Joins two changes of one thing shortly after one another.
 * @returns null if nothing is left of both: it came and went
 */
export function folded(first: Change, second: Change): Change | null {
  if (first === 'came') return second === 'went' ? null : 'came';
  if (first === 'went') return second === 'went' ? 'went' : 'changed';
  return second === 'went' ? 'went' : 'changed';
}
