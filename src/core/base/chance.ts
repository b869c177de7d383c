/**
 * Numbers from 0 to below 1 that look random and are the same every time (a linear congruential
 * generator).
 */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}
