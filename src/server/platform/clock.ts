/**
 * The time by which the server decides. Spans are measured with `performance.now()`, which never
 * jumps. Rows are sorted and expired by the database's clock, which all processes share. The age of
 * a file is measured by the clock of the computer that stores it.
 */
let machine = Date.now;

export const clock = {
  /** In ms since 1970, as `Date.now()`. */
  now: (): number => machine(),
  date: (): Date => new Date(machine()),
};

/** Uses another clock from now on, or the computer's own if none is given. For tests. */
export function goBy(now: () => number = Date.now): void {
  machine = now;
}
