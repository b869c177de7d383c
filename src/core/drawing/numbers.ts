const powers = [1, 10, 100, 1e3, 1e4, 1e5, 1e6];

/** What small numbers are written as, by their places and by their value in the last of these. */
const written: string[][] = powers.map(() => []);
const mostWritten = 1 << 14;

/**
 * Writes a number with at most `places` decimals (0 to 6) and no trailing zeros, so that artwork is
 * compact and the same everywhere.
 */
export function short(value: number, places = 3): string {
  const scaled = Math.round(value * powers[places]!);
  if (scaled > 0 && scaled < mostWritten && !Number.isInteger(value))
    return (written[places]![scaled] ??= String(scaled / powers[places]!));
  if (Number.isInteger(value)) return String(value);
  // a double nearest to a short decimal prints as that decimal
  return scaled === 0 ? '0' : String(scaled / powers[places]!);
}

/** A short name for text or bytes that is the same every time (FNV-1a, 32 bits, to base 36). */
export function shortName(content: string | Uint8Array): string {
  let value = 0x811c9dc5;
  for (let i = 0; i < content.length; i++)
    value = Math.imul(
      value ^ (typeof content === 'string' ? content.charCodeAt(i) : content[i]!),
      0x01000193,
    );
  return (value >>> 0).toString(36);
}
