const powers = [1, 10, 100, 1e3, 1e4, 1e5, 1e6];

/** Writes a number with at most `places` decimals (0 to 6) and no trailing zeros, so that artwork is compact and the same everywhere. */
export function short(value: number, places = 3): string {
  if (Number.isInteger(value)) return String(value);
  // a double nearest to a short decimal prints as that decimal
  const rounded = Math.round(value * powers[places]) / powers[places];
  return rounded === 0 ? '0' : String(rounded);
}
