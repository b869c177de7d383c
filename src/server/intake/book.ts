import { read, SSF, utils, type CellObject, type WorkSheet } from '@e965/xlsx';
import { Unzip, UnzipInflate, unzipSync } from 'fflate';
import { decodeText, parseSeparated } from './text';

/** A file or paste as rows of text, nothing decided yet. */
export interface Book {
  kind: string;
  sheets: Sheet[];
}

export interface Sheet {
  name: string;
  hidden: boolean;
  rows: string[][];
  notes: string[];
}

/** A file that cannot be taken; the message is for the person who chose it and says what would help. */
export class IntakeError extends Error {
  override name = 'IntakeError';
}

export const mostBytes = 40 * 1024 * 1024;
const mostUnpacked = 400 * 1024 * 1024;
export const mostRows = 200_000;
export const mostColumns = 500;

const megabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;

export function tooLarge(name: string, bytes: number): IntakeError {
  return new IntakeError(
    `${name} is ${megabytes(bytes)}; Hand Stamp takes files up to ${megabytes(mostBytes)}. Save only the sheet you need, or save it as CSV, and bring that in.`,
  );
}

/** Reads a spreadsheet or separated text. @throws IntakeError in the user's words for anything that is not one */
export function readBook(name: string, bytes: Uint8Array): Book {
  if (bytes.length > mostBytes) throw tooLarge(name, bytes.length);
  if (bytes.length === 0) throw new IntakeError(`${name} is empty: there is not one byte in it.`);
  const starts = (...mark: number[]) => mark.every((b, i) => bytes[i] === b);
  const book = starts(0x50, 0x4b, 3, 4)
    ? readZipped(name, bytes)
    : starts(0xd0, 0xcf, 0x11, 0xe0)
      ? readWorkbook(name, bytes, 'XLS')
      : readText(name, bytes);
  book.sheets = book.sheets.map(trimSheet);
  if (book.sheets.every((sheet) => sheet.rows.length === 0))
    throw new IntakeError(`${name} has no filled cells, so there are no records to bring in.`);
  const wide = book.sheets.find((sheet) => sheet.rows[0]?.length > mostColumns);
  if (wide)
    throw new IntakeError(
      `${name} has ${wide.rows[0].length} columns; Hand Stamp takes up to ${mostColumns}. Take out the columns that no code or label needs.`,
    );
  const long = book.sheets.find((sheet) => sheet.rows.length > mostRows);
  if (long)
    throw new IntakeError(
      `${name} has ${long.rows.length.toLocaleString('en')} rows; Hand Stamp takes up to ${mostRows.toLocaleString('en')} in one list. Cut it into parts.`,
    );
  return book;
}

const knownOthers: [number[], string][] = [
  [[0x25, 0x50, 0x44, 0x46], 'a PDF document'],
  [[0x89, 0x50, 0x4e, 0x47], 'a PNG picture'],
  [[0xff, 0xd8, 0xff], 'a JPEG picture'],
  [[0x47, 0x49, 0x46, 0x38], 'a GIF picture'],
  [[0x7f, 0x45, 0x4c, 0x46], 'a program'],
  [[0x4d, 0x5a], 'a program'],
];
const whatToDo = 'Save the list as XLSX, XLS, ODS or CSV and bring that in, or paste its rows.';

function readText(name: string, bytes: Uint8Array): Book {
  for (const [mark, what] of knownOthers)
    if (mark.every((b, i) => bytes[i] === b)) throw new IntakeError(`${name} is ${what}, not a spreadsheet. ${whatToDo}`);
  const { text, encoding } = decodeText(bytes);
  // eslint-disable-next-line no-control-regex -- control characters are what tells a binary file from a text
  const strange = (text.slice(0, 20_000).match(/[\x00-\x08\x0e-\x1f\ufffd]/g) ?? []).length;
  if (strange > Math.min(text.length, 20_000) / 100) throw new IntakeError(`${name} is not a spreadsheet and not text. ${whatToDo}`);
  if (/^\s*<(!doctype|html|\?xml)/i.test(text)) throw new IntakeError(`${name} is a web page or XML file, not a spreadsheet. ${whatToDo}`);
  const { rows, separator } = parseSeparated(text);
  return { kind: `text with ${separator}, ${encoding}`, sheets: [{ name: name.replace(/\.[^.]+$/, ''), hidden: false, rows, notes: [] }] };
}

const bomb = (name: string): IntakeError =>
  new IntakeError(
    `${name} would unpack to more than ${megabytes(mostUnpacked)}, which no list of records needs. It was not opened. Save the sheet as CSV and bring that in.`,
  );

/**
 * Learns what a ZIP holds and how much it would come to: by what it says of itself, and then, since that may be a lie,
 * by unpacking it without keeping anything.
 */
function inspectZip(bytes: Uint8Array, name: string): Set<string> {
  const names = new Set<string>();
  let declared = 0;
  unzipSync(bytes, {
    filter: (file) => {
      names.add(file.name);
      declared += file.originalSize;
      return false;
    },
  });
  if (declared > mostUnpacked) throw bomb(name);
  let unpacked = 0;
  const unzip = new Unzip((file) => {
    file.ondata = (error, data) => {
      if (error) throw error;
      unpacked += data.length;
      if (unpacked > mostUnpacked) throw bomb(name);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  const step = 256 * 1024;
  for (let at = 0; at < bytes.length; at += step) unzip.push(bytes.subarray(at, at + step), at + step >= bytes.length);
  return names;
}

function readZipped(name: string, bytes: Uint8Array): Book {
  let names: Set<string>;
  try {
    names = inspectZip(bytes, name);
  } catch (error) {
    if (error instanceof IntakeError) throw error;
    throw new IntakeError(`${name} is damaged: its packed parts do not open. Save it again from the program it comes from.`);
  }
  if (names.has('xl/workbook.xml') || names.has('xl/workbook.bin')) return readWorkbook(name, bytes, 'XLSX');
  if (names.has('content.xml') && names.has('mimetype')) return readWorkbook(name, bytes, 'ODS');
  if (names.has('word/document.xml')) throw new IntakeError(`${name} is a text document, not a spreadsheet. ${whatToDo}`);
  throw new IntakeError(`${name} is a ZIP file, not a spreadsheet. Unpack it and bring in the spreadsheet inside.`);
}

function readWorkbook(name: string, bytes: Uint8Array, kind: string): Book {
  try {
    const workbook = read(bytes, { type: 'array', dense: true, cellNF: true, cellText: true, cellHTML: false });
    const hidden = workbook.Workbook?.Sheets ?? [];
    const sheets = workbook.SheetNames.map((sheetName, i) => ({
      name: sheetName,
      hidden: (hidden[i]?.Hidden ?? 0) > 0,
      ...sheetRows(workbook.Sheets[sheetName]),
    }));
    return { kind, sheets };
  } catch (error) {
    if (error instanceof IntakeError) throw error;
    const locked = error instanceof Error && /password|encrypt/i.test(error.message);
    throw new IntakeError(
      locked
        ? `${name} is locked with a password. Save it without one and bring that in.`
        : `${name} cannot be opened as a spreadsheet; it may be damaged. Save it again, or save it as CSV.`,
    );
  }
}

function sheetRows(sheet: WorkSheet): { rows: string[][]; notes: string[] } {
  const data = (sheet as WorkSheet & { '!data'?: (CellObject | undefined)[][] })['!data'] ?? [];
  const range = sheet['!ref'] ? utils.decode_range(sheet['!ref']) : undefined;
  if (!range) return { rows: [], notes: [] };
  let rounded = 0;
  let errors = 0;
  const rows: string[][] = [];
  const width = Math.min(range.e.c, mostColumns + 1);
  for (let r = range.s.r; r <= range.e.r; r++) {
    const row: string[] = [];
    for (let c = range.s.c; c <= width; c++) {
      const cell = data[r]?.[c];
      if (cell?.t === 'e') errors++;
      if (cell?.t === 'n' && typeof cell.v === 'number' && Number.isInteger(cell.v) && Math.abs(cell.v) >= 1e15) rounded++;
      row.push(cellText(cell));
    }
    rows.push(row);
  }
  const notes: string[] = [];
  if (rounded)
    notes.push(
      `${rounded} ${rounded === 1 ? 'number has' : 'numbers have'} over 15 digits, which the spreadsheet has already rounded. Format the column as text there and type them again.`,
    );
  if (errors) notes.push(`${errors} ${errors === 1 ? 'cell holds' : 'cells hold'} a formula error; their records will need a look.`);
  return { rows, notes };
}

/** The value as a person reads it in the sheet, except that whole numbers keep every digit. */
function cellText(cell: CellObject | undefined): string {
  if (!cell || cell.v === undefined || cell.v === null) return '';
  if (cell.t === 's') return String(cell.v);
  const shown = cell.w ?? formatted(cell) ?? String(cell.v);
  if (
    cell.t === 'n' &&
    typeof cell.v === 'number' &&
    Number.isInteger(cell.v) &&
    (cell.z === 'General' || cell.z === undefined || /E\+/i.test(shown))
  )
    return BigInt(cell.v).toString();
  return shown;
}

/** The formatter leaves out formats with bare points, such as dd.mm.yyyy; quoted, they are what the sheet shows. */
function formatted(cell: CellObject): string | undefined {
  if (typeof cell.z !== 'string' || !/[dmy]/i.test(cell.z)) return undefined;
  try {
    return SSF.format(
      cell.z.replace(/"[^"]*"|\./g, (part) => (part === '.' ? '"."' : part)),
      cell.v,
    ) as string;
  } catch {
    return undefined;
  }
}

/** Leaves out blank rows at the end and in the middle, and blank columns at the right; makes all rows equally long. */
function trimSheet(sheet: Sheet): Sheet {
  const filled = (cell: string) => cell.trim() !== '';
  let last = -1;
  sheet.rows.forEach((row, r) => row.some(filled) && (last = r));
  const kept = sheet.rows.slice(0, last + 1);
  let width = 0;
  for (const row of kept) for (let c = row.length; c > width; c--) if (filled(row[c - 1])) width = c;
  const rows = kept.filter((row) => row.some(filled)).map((row) => Array.from({ length: width }, (_, c) => row[c] ?? ''));
  const blank = kept.length - rows.length;
  const notes = [...sheet.notes];
  if (blank > 0) notes.push(`${blank} blank ${blank === 1 ? 'row was' : 'rows were'} left out.`);
  return { ...sheet, rows, notes };
}
