/** As `map`, of a few things that are taken apart again by their places. */
export const mapped = <const A extends readonly unknown[], U>(
  all: A,
  work: (one: A[number], place: number) => U,
): { -readonly [K in keyof A]: U } => all.map(work) as { -readonly [K in keyof A]: U };
