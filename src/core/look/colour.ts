/** Colours as `#rrggbb`, and their contrast for a scanner. */
export interface Rgb {
  /** 0 to 255 each. */
  r: number;
  g: number;
  b: number;
}

/** Reads `#rgb` or `#rrggbb`; undefined for anything else. */
export function parseColour(text: string): Rgb | undefined {
  const short = /^#([0-9a-f])([0-9a-f])([0-9a-f])$/i.exec(text);
  if (short)
    return {
      r: parseInt(short[1]! + short[1]!, 16),
      g: parseInt(short[2]! + short[2]!, 16),
      b: parseInt(short[3]! + short[3]!, 16),
    };
  const long = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(text);
  return long
    ? { r: parseInt(long[1]!, 16), g: parseInt(long[2]!, 16), b: parseInt(long[3]!, 16) }
    : undefined;
}

/**
 * Reads a colour in the forms in which people have it at hand: hex with or without #, three numbers
 * from 0 to 255, and `rgb(…)` as CSS writes it, with numbers or percentages (CSS Color 4). One that
 * is partly transparent is none, since a code has one colour or no ground at all.
 */
export function typedColour(text: string): Rgb | undefined {
  const plain = text.trim().replace(/;$/, '');
  if (/^[0-9a-f]{3}$|^[0-9a-f]{6}$/i.test(plain)) return parseColour(`#${plain}`);
  if (/^#[0-9a-f]{6}ff$/i.test(plain)) return parseColour(plain.slice(0, 7));
  const inside = /^rgba?\(([^()]*)\)$/i.exec(plain)?.[1] ?? plain;
  const [red = '', green = '', blue = '', alpha = '1', more] = inside
    .trim()
    .split(/\s*[,/]\s*|\s+/);
  const [r, g, b] = [numberOf(red), numberOf(green), numberOf(blue)];
  if (r === undefined || g === undefined || b === undefined) return parseColour(plain);
  if (more !== undefined || !/^(1(\.0+)?|100%)$/.test(alpha)) return undefined;
  return [r, g, b].every((v) => v <= 255) ? { r, g, b } : undefined;
}

/** A number of `rgb(…)`, percentages as parts of 255. */
function numberOf(text: string): number | undefined {
  const [, value, percent] = /^(\d{1,3}(?:\.\d+)?)(%?)$/.exec(text) ?? [];
  if (value === undefined) return undefined;
  return percent ? Math.round((Number(value) / 100) * 255) : Math.round(Number(value));
}

/** A colour as `#rrggbb`. */
export const hexOf = ({ r, g, b }: Rgb): string =>
  `#${[r, g, b].map((v) => v.toString(16).padStart(2, '0')).join('')}`;

/** Relative luminance, 0 to 1 (WCAG 2.2, from IEC 61966-2-1 sRGB). */
export function luminance({ r, g, b }: Rgb): number {
  const linear = (v: number) =>
    v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4;
  return 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);
}

/**
 * Grey value 0 to 255 with which a one-channel camera image shows a colour (ITU-R BT.601 weights).
 */
export const greyOf = ({ r, g, b }: Rgb): number => Math.round(0.299 * r + 0.587 * g + 0.114 * b);

/** Contrast ratio 1 to 21 of two colours (WCAG 2.2). */
export function contrastRatio(a: Rgb, b: Rgb): number {
  const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y);
  return (high! + 0.05) / (low! + 0.05);
}
