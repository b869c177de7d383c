import { suggestRoles, tidyHeadings } from '../../core/records/columns';
import type { Book, Sheet } from './book';
import type { BookPreview, SheetPreview } from '../../core/job/views';

/** The row, from 0, that looks like headings: mostly filled, words rather than figures, no repeats. */
export function findHeaderRow(rows: readonly (readonly string[])[]): number {
  let best = 0;
  let bestScore = -1;
  rows.slice(0, 12).forEach((row, r) => {
    const cells = row.filter((cell) => cell.trim() !== '');
    if (cells.length === 0) return;
    const words = cells.filter((cell) => !/^[\d.,/:\s-]+$/.test(cell) && cell.length <= 60).length / cells.length;
    const distinct = new Set(cells).size / cells.length;
    const score = (cells.length / row.length) * 2 + words + distinct - r * 0.05;
    if (score > bestScore + 0.2) [best, bestScore] = [r, score];
  });
  return best;
}

/** Headings and data rows of a sheet for a chosen header row; -1 means that every row is a record. */
export function headingsAndRows(sheet: Sheet, headerRow: number): { names: string[]; notes: string[]; rows: string[][] } {
  const width = sheet.rows[0]?.length ?? 0;
  const raw = headerRow >= 0 ? (sheet.rows[headerRow] ?? []) : Array.from({ length: width }, () => '');
  const { names, notes } = tidyHeadings(raw);
  return { names, notes: headerRow >= 0 ? notes : [], rows: sheet.rows.slice(headerRow + 1) };
}

export function previewBook(book: Book): BookPreview {
  return { kind: book.kind, sheets: book.sheets.map(previewSheet) };
}

function previewSheet(sheet: Sheet): SheetPreview {
  const headerRow = findHeaderRow(sheet.rows);
  const { names, notes, rows } = headingsAndRows(sheet, headerRow);
  const more = names.length > 60 ? [`The sheet has ${names.length} columns; all of them are brought in.`] : [];
  return {
    name: sheet.name,
    hidden: sheet.hidden,
    rows: sheet.rows.length,
    columns: names.length,
    head: sheet.rows.slice(0, 24).map((row) => row.map((cell) => (cell.length > 200 ? `${cell.slice(0, 200)}…` : cell))),
    headerRow,
    roles: suggestRoles(names, rows.slice(0, 500)),
    notes: [...sheet.notes, ...notes, ...more],
  };
}
