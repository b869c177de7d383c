import { parse } from 'csv-parse/browser/esm/sync';

const read = (text: string, quote: '"' | false): string[][] =>
  parse(text, {
    delimiter: '\t',
    quote,
    relax_quotes: true,
    relax_column_count: true,
    skip_empty_lines: false,
  }) as string[][];

/**
 * The cells of copied text, row by row, as spreadsheets put them on the clipboard: in quotes if a
 * cell has several lines. A quote that does not enclose a cell, as in `"Dune House`, stays.
 */
export function rowsOf(text: string): string[][] {
  try {
    return read(text, '"');
  } catch {
    return read(text, false);
  }
}
