/** Like `map`, for a tuple whose result is destructured again. */
export const mapped = <const A extends readonly unknown[], U>(
  all: A,
  work: (one: A[number], place: number) => U,
): { -readonly [K in keyof A]: U } => all.map(work) as { -readonly [K in keyof A]: U };
