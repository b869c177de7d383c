/**
 * Check digit of GS1 numbers (modulo 10, weights 3 and 1 from the right), for digits without it.
 */
export function gs1CheckDigit(digits: string): string {
  let sum = 0;
  for (let i = 0; i < digits.length; i++)
    sum += Number(digits[digits.length - 1 - i]) * (i % 2 === 0 ? 3 : 1);
  return String((10 - (sum % 10)) % 10);
}

/**
 * Whether the last digit of a GTIN (8, 12, 13 or 14 digits) is its check digit (GS1 General
 * Specifications, modulo 10).
 */
export const checkDigitFits = (digits: string): boolean =>
  gs1CheckDigit(digits.slice(0, -1)) === digits.at(-1);
