import { looksLikeEmail } from '../../../core/base/email';
import { dots } from '../../../core/records/sealed';
import { secretHeadings, suggestRoles, tidyHeadings } from '../../../core/records/columns';
import type { Doubt, SheetChoices } from '../../../core/records/reading';
import type { BookPreview, SheetPreview } from '../../../contract';
import type { Book, Sheet } from './book';

type Rows = readonly (readonly string[])[];

/** The kind of a cell's content, as far as it helps to tell headings from records. */
function kindOf(cell: string): 'number' | 'date' | 'mail' | 'address' | 'words' | 'blank' {
  const text = cell.trim();
  if (text === '') return 'blank';
  if (/^\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}([ T]\d{1,2}:\d\d)?/.test(text)) return 'date';
  if (/^[\d\s.,:+\-–/%€$£()]+$/.test(text) && /\d/.test(text)) return 'number';
  if (looksLikeEmail(text)) return 'mail';
  return /^(https?:\/\/|www\.)\S+$/i.test(text) ? 'address' : 'words';
}

const filled = (row: readonly string[]): number => row.filter((cell) => cell.trim() !== '').length;

/**
 * Cells that the rows of a sheet usually fill: the number that most of them have, by their middle.
 */
function usualWidth(rows: Rows): number {
  const widths = rows
    .slice(0, 200)
    .map(filled)
    .sort((a, b) => a - b);
  return widths[Math.floor(widths.length / 2)] ?? 0;
}

/**
 * The row, from 0, that looks like headings: as many words as the rows below have cells, none of
 * them twice; -1 when the first full row is itself a record. A row that is wider than all others
 * does not count for more.
 */
export function findHeaderRow(rows: Rows): number {
  const usual = usualWidth(rows);
  const last = Math.min(12, rows.length);
  let best = 0;
  let bestScore = -Infinity;
  for (let r = 0; r < last; r++) {
    const cells = rows[r]!.filter((cell) => cell.trim() !== '');
    if (cells.length === 0) continue;
    const words =
      cells.filter((cell) => kindOf(cell) === 'words' && cell.length <= 60).length / cells.length;
    const distinct = new Set(cells.map((c) => c.trim().toLowerCase())).size / cells.length;
    const wide = Math.min(1, cells.length / Math.max(1, usual));
    const score = wide * 2 + words * 1.5 + distinct - r * 0.05;
    if (score > bestScore + 0.2) [best, bestScore] = [r, score];
  }
  return isRecord(rows, best) ? -1 : best;
}

/** Whether a row is built like those below it, so that it is a record and not their headings. */
function isRecord(rows: Rows, at: number): boolean {
  const below = rows.slice(at + 1, at + 201);
  if (below.length === 0) return false;
  let same = 0;
  let telling = 0;
  let again = 0;
  rows[at]!.forEach((cell, c) => {
    const kind = kindOf(cell);
    const column = below.map((row) => row[c] ?? '').filter((v) => v.trim() !== '');
    if (kind === 'blank' || column.length === 0) return;
    const common = column.filter((v) => kindOf(v) === kind).length / column.length;
    const others = column.filter((v) => kindOf(v) !== 'words').length / column.length;
    if (others > 0.6) {
      telling++;
      if (kind !== 'words' && common > 0.6) same++;
    } else if (
      column.length >= 2 &&
      column.filter((v) => v.trim() === cell.trim()).length >= Math.max(1, column.length / 20)
    )
      again++;
    else if (
      built(cell) !== undefined &&
      column.filter((v) => built(v) === built(cell)).length > column.length * 0.6
    ) {
      same++;
      telling++;
    }
  });
  return telling > 0 ? same === telling : again > 0;
}

/** How a value with digits and letters is built, such as LL-0000; undefined for words. */
const built = (cell: string): string | undefined =>
  /\d/.test(cell) && /\p{L}/u.test(cell)
    ? cell.trim().replace(/\p{L}/gu, 'L').replace(/\d/g, '0')
    : undefined;

const sums =
  /^\s*(grand )?(total|totals|sum|summe|gesamt|subtotal|somme|totale|suma|count|anzahl|average)\b/i;

/** Whether the last row sums the others up instead of being one of them. */
function endsInSum(rows: Rows): boolean {
  const last = rows.at(-1);
  if (!last || rows.length < 3) return false;
  const first = last.find((cell) => cell.trim() !== '');
  return (
    first !== undefined &&
    sums.test(first) &&
    last.some((cell) => kindOf(cell) === 'number') &&
    filled(last) <= usualWidth(rows)
  );
}

/** How much a sheet looks like a table of records, to choose one among several. */
function likeness(sheet: Sheet): number {
  if (sheet.rows.length < 2) return -1;
  const usual = usualWidth(sheet.rows);
  const full = sheet.rows.filter((row) => filled(row) >= usual * 0.6).length / sheet.rows.length;
  return (sheet.hidden ? 0.1 : 1) * Math.min(usual, 8) * full * Math.log2(1 + sheet.rows.length);
}

export interface TakenSheet {
  names: string[];
  notes: string[];
  rows: readonly (readonly string[])[];
  /** Columns of the sheet that are brought in, from 0. */
  columns: number[];
  /** Doubts of each row's cells, by their place among the columns brought in. */
  doubts: (Readonly<Record<number, Doubt>> | undefined)[];
}

/** Headings and records of a sheet as they were chosen. */
export function takenSheet(
  sheet: Sheet,
  { headerRow, lastOut, fillDown, hiddenOut, linksIn }: SheetChoices,
): TakenSheet {
  const width = sheet.rows[0]?.length ?? 0;
  const shown = Array.from({ length: width }, (_, c) => c).filter(
    (c) => !(hiddenOut && sheet.hiddenColumns.has(c)),
  );
  const linked = linkedColumns(sheet);
  const columns = [
    ...shown,
    ...(linksIn ? linked.flatMap((c, i) => (shown.includes(c) ? [width + i] : [])) : []),
  ];
  const cells = fillDown ? filledDown(sheet) : sheet.rows;
  const end = lastOut ? cells.length - 1 : cells.length;
  const kept = cells
    .map((_, r) => r)
    .slice(headerRow + 1, end)
    .filter((r) => !(hiddenOut && sheet.hiddenRows.has(r)));
  const raw = headerRow >= 0 ? (cells[headerRow] ?? []) : Array.from({ length: width }, () => '');
  const headingOf = (c: number): string =>
    c < width
      ? (raw[c] ?? '')
      : `${raw[linked[c - width]!]?.trim() || `Column ${linked[c - width]! + 1}`} link`;
  const { names, notes } = tidyHeadings(columns.map(headingOf));
  return {
    names,
    notes: headerRow >= 0 ? notes : [],
    columns,
    // the same rows if no column is left out: a second copy of a long and wide list is a lot
    rows: kept.map((r) =>
      shown.length === width && columns.length === width
        ? cells[r]!
        : columns.map((c) =>
            c < width ? cells[r]![c]! : (sheet.links.get(r)?.[linked[c - width]!] ?? ''),
          ),
    ),
    doubts: kept.map((r) => {
      const own = sheet.doubts.get(r);
      return (
        own && Object.fromEntries(columns.flatMap((c, i) => (own[c] ? [[i, own[c]] as const] : [])))
      );
    }),
  };
}

/** Columns with cells that link to an address, from 0, in their order. */
function linkedColumns(sheet: Sheet): number[] {
  const found = new Set<number>();
  for (const targets of sheet.links.values())
    for (const c of Object.keys(targets)) found.add(Number(c));
  return [...found].sort((a, b) => a - b);
}

function filledDown(sheet: Sheet): string[][] {
  const rows = sheet.rows.map((row) => [...row]);
  for (const { column, from, to } of sheet.merged)
    for (let r = from + 1; r <= to; r++)
      if (rows[r]![column] === '') rows[r]![column] = rows[from]![column]!;
  return rows;
}

export function previewBook(book: Book): BookPreview {
  const likely = book.sheets.map(likeness);
  const { text } = book;
  return {
    kind: book.kind,
    sheets: book.sheets.map(previewSheet),
    suggested: likely.indexOf(Math.max(...likely)),
    ...(text ? { text } : {}),
  };
}

const shortened = (cell: string): string => (cell.length > 200 ? `${cell.slice(0, 200)}…` : cell);

function previewSheet(sheet: Sheet): SheetPreview {
  const headerRow = findHeaderRow(sheet.rows);
  const lastOut = endsInSum(sheet.rows);
  const width = sheet.rows[0]?.length ?? 0;
  // the role of a column is decided by its first 500 records
  const first = sheet.rows.slice(0, headerRow + 501);
  const taken = takenSheet(
    { ...sheet, rows: first },
    { headerRow, lastOut: lastOut && first.length === sheet.rows.length, linksIn: true },
  );
  const { notes, rows, columns } = taken;
  const names = taken.names.slice(0, width);
  // what will be kept secret is not shown before it is taken either
  const secret = new Set(
    names.flatMap((name, i) => (headerRow >= 0 && secretHeadings.test(name) ? [columns[i]] : [])),
  );
  const masked = (column: number, row: number, cell: string): string =>
    row > headerRow && secret.has(column) && cell.trim() ? dots : shortened(cell);
  const more =
    names.length > 60 ? [`The sheet has ${names.length} columns; all of them are brought in.`] : [];
  const hiddenColumns = [...sheet.hiddenColumns].filter((c) => c < width);
  return {
    name: sheet.name,
    hidden: sheet.hidden,
    rows: sheet.rows.length,
    columns: width,
    head: sheet.rows.slice(0, 24).map((row, r) => row.map((cell, c) => masked(c, r, cell))),
    numbers: sheet.numbers.slice(0, 24),
    headerRow,
    roles: suggestRoles(taken.names, rows),
    notes: [...sheet.notes, ...(sheet.rows.length ? notes : []), ...more],
    hiddenRows: sheet.hiddenRows.size,
    hiddenColumns: hiddenColumns.length,
    hiddenNames: hiddenColumns.slice(0, 5).map((c) => names[c] ?? ''),
    hiddenAt: hiddenColumns,
    hiddenRowsAt: [...sheet.hiddenRows].filter((r) => r < 24),
    links: linkedColumns(sheet).map((at, i) => ({
      at,
      name: taken.names[width + i]!,
      cells: [...sheet.links.values()].filter((targets) => targets[at]).length,
      head: Array.from({ length: Math.min(24, sheet.rows.length) }, (_, r) =>
        masked(at, r, sheet.links.get(r)?.[at] ?? ''),
      ),
    })),
    filtered: sheet.filtered,
    merged: sheet.merged.reduce((sum, m) => sum + m.to - m.from, 0),
    sum: lastOut
      ? `${sheet.rows
          .at(-1)!
          .filter((c) => c.trim())
          .slice(0, 3)
          .join(', ')}`
      : undefined,
  };
}
