import { parse } from 'csv-parse/browser/esm/sync';

/** The cells of copied text, row by row, as spreadsheets put them on the clipboard. */
export const rowsOf = (text: string): string[][] =>
  parse(text, {
    delimiter: '\t',
    relax_quotes: true,
    relax_column_count: true,
    skip_empty_lines: false,
  }) as string[][];
