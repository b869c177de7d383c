/**
 * What time it is for whatever the server decides by it. Spans are measured by `performance.now()`,
 * which never jumps; rows that are put in order or thrown away by age go by the database's clock,
 * which all processes share; the age of a file is told by the clock of the machine that holds it.
 */
let machine = Date.now;

export const clock = {
  /** In ms since 1970, as `Date.now()`. */
  now: (): number => machine(),
  date: (): Date => new Date(machine()),
};

/** Goes by another clock from now on; by the machine's where none is given. For tests. */
export function goBy(now: () => number = Date.now): void {
  machine = now;
}
