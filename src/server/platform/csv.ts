import { stringify } from 'csv-stringify/sync';

/** A text that a spreadsheet program would run as a formula (OWASP, CSV Injection). */
const formula = /^[=+\-@\t\r＝＋－＠]/;
/** A number, a sum of money or a telephone number is none. */
const number = /^[+-][\d ().,/-]*$/;

/** A cell that is not a formula: an apostrophe marks it as text for spreadsheet programs. */
export const plainCell = (cell: string): string =>
  formula.test(cell) && !number.test(cell) ? `'${cell}` : cell;

/**
 * Lines of a CSV file (RFC 4180) without formulas.
 * @param bom begins with a byte order mark, so that spreadsheet programs read UTF-8
 */
export const csvLines = (
  rows: readonly (readonly (string | number)[])[],
  { bom = false } = {},
): string =>
  stringify(
    rows.map((row) => row.map((cell) => (typeof cell === 'string' ? plainCell(cell) : cell))),
    { bom, record_delimiter: '\r\n' },
  );
