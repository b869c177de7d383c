/**
 * What goes with every answer: nothing of ours is guessed at, framed, or told where somebody comes
 * from.
 */
export const headersOfAll = {
  'X-Content-Type-Options': 'nosniff',
  'X-Frame-Options': 'DENY',
  'Referrer-Policy': 'same-origin',
  'Cross-Origin-Opener-Policy': 'same-origin',
} as const;
