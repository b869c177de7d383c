/** Writes a number with at most `places` decimals and no trailing zeros, so that artwork is compact and the same everywhere. */
export function short(value: number, places = 3): string {
  if (Number.isInteger(value)) return String(value);
  const fixed = value.toFixed(places);
  const text = places === 0 ? fixed : fixed.replace(/\.?0+$/, '');
  return text === '-0' ? '0' : text;
}
