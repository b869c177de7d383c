/** Whether the last digit of a GTIN (8, 12, 13 or 14 digits) is its check digit (GS1 General Specifications, modulo 10). */
export function checkDigitFits(digits: string): boolean {
  let sum = 0;
  for (let i = 0; i < digits.length - 1; i++) sum += Number(digits[digits.length - 2 - i]) * (i % 2 === 0 ? 3 : 1);
  return (10 - (sum % 10)) % 10 === Number(digits.at(-1));
}
