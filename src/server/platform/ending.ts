/**
 * Whether this process is being stopped. Work that cannot be left in the middle looks at it before
 * it begins the next piece.
 */
export const ending = { now: false };
