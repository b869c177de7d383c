/** Colours as `#rrggbb` and what a scanner makes of them. */
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
