import { read, SSF, utils, type CellObject, type WorkSheet } from '@e965/xlsx';
import { Unzip, UnzipInflate, unzipSync, strFromU8 } from 'fflate';
import { looksLikeEmail } from '../../../core/base/email';
import { isKeepable, keepable } from '../../../core/records/keepable';
import {
  encodingName,
  separators,
  type Doubt,
  type EncodingId,
  type Separator,
  type TextReading,
} from '../../../core/records/reading';
import { counted } from '../../../core/base/words';
import { IntakeError } from '../../platform';
import { Limits, megabytes, mostBytes, mostUnpacked } from './limits';
import { decodeText, parseSeparated } from './text';

export { mostBytes, mostRows } from './limits';

/** A file or paste as rows of text, before any choices. */
export interface Book {
  kind: string;
  sheets: Sheet[];
  /** Of a text: how it was read, and whether that is in doubt. */
  text?: { encoding: EncodingId; separator: Separator; doubtful: boolean };
}

/** The filled rows of a sheet. */
export interface Sheet {
  name: string;
  hidden: boolean;
  /** Values as a person reads them in the sheet, all rows equally long. */
  rows: string[][];
  /** Number that each row has in the file, from 1. */
  numbers: number[];
  /** Indexes of rows and columns that are hidden in the file. */
  hiddenRows: ReadonlySet<number>;
  hiddenColumns: ReadonlySet<number>;
  /** Rows are hidden by a filter and not one by one. */
  filtered: boolean;
  /** Cells merged downwards: the row that holds the value, and the last row of the area. */
  merged: readonly { column: number; from: number; to: number }[];
  /** Doubts of cells, by row and column. */
  doubts: ReadonlyMap<number, Readonly<Record<number, Doubt>>>;
  /** Addresses that cells link to and do not show, by row and column. */
  links: ReadonlyMap<number, Readonly<Record<number, string>>>;
  notes: string[];
}

/** A sheet of rows that came from elsewhere than a file. */
export const plainSheet = (name: string, rows: string[][]): Sheet => ({
  name,
  hidden: false,
  rows,
  numbers: rows.map((_, i) => i + 1),
  hiddenRows: new Set(),
  hiddenColumns: new Set(),
  filtered: false,
  merged: [],
  doubts: new Map(),
  links: new Map(),
  notes: [],
});

export function tooLarge(name: string, bytes: number): IntakeError {
  return new IntakeError(
    `${name} is ${megabytes(bytes)}; the most is ${megabytes(mostBytes)}. Save only the sheet you need, or save it as CSV, and bring that in.`,
  );
}

/**
 * Reads a spreadsheet or separated text.
 * @param reading for text, how to read it, if that was chosen
 * @throws IntakeError in the user's words for anything else
 */
export function readBook(name: string, bytes: Uint8Array, reading: TextReading = {}): Book {
  if (bytes.length > mostBytes) throw tooLarge(name, bytes.length);
  if (bytes.length === 0) throw new IntakeError(`${name} is empty. Choose another file.`);
  const starts = (...mark: number[]) => mark.every((b, i) => bytes[i] === b);
  const book = starts(0x50, 0x4b, 3, 4)
    ? readZipped(name, bytes)
    : starts(0xd0, 0xcf, 0x11, 0xe0)
      ? readWorkbook(name, bytes, 'XLS', new Map())
      : readText(name, bytes, reading);
  if (book.sheets.every((sheet) => sheet.rows.length === 0))
    throw new IntakeError(
      `${name} has no filled cells, so there are no records to bring in. Choose another sheet or file.`,
    );
  return {
    ...book,
    sheets: book.sheets.map((sheet) => ({ ...sheet, name: keepable(sheet.name) })),
  };
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

function readText(name: string, bytes: Uint8Array, reading: TextReading): Book {
  for (const [mark, what] of knownOthers)
    if (mark.every((b, i) => bytes[i] === b))
      throw new IntakeError(`${name} is ${what}, not a spreadsheet. ${whatToDo}`);
  const { text, id, doubtful } = decodeText(bytes, reading.encoding);
  const strange = (text.slice(0, 20_000).match(/[\x00-\x08\x0e-\x1f\ufffd]/g) ?? []).length;
  if (!reading.encoding && strange > Math.min(text.length, 20_000) / 100)
    throw new IntakeError(`${name} is not a spreadsheet and not text. ${whatToDo}`);
  if (/^\s*<(!doctype|html|\?xml)/i.test(text))
    throw new IntakeError(`${name} is a web page or XML file, not a spreadsheet. ${whatToDo}`);
  const parsed = parseSeparated(name, text, new Limits(name), reading.separator);
  const numbered = parsed.rows.map(({ cells, line }) => ({ number: line, cells }));
  return {
    kind: `text with ${separators[parsed.separator]}, ${encodingName(id)}`,
    text: { encoding: id, separator: parsed.separator, doubtful },
    sheets: [{ ...plainSheet(name.replace(/\.[^.]+$/, ''), []), ...trimmed(numbered) }],
  };
}

/**
 * Filled rows, all as wide as the widest of them. The rows that are given become the sheet's: of a
 * long and wide list a second set would not fit.
 */
function trimmed(
  rows: readonly { number: number; cells: string[] }[],
): Pick<Sheet, 'rows' | 'numbers' | 'notes'> {
  let width = 0;
  for (const { cells } of rows) {
    let last = cells.length;
    while (last > width && cells[last - 1]!.trim() === '') last--;
    width = Math.max(width, last);
  }
  let mended = 0;
  for (const { cells } of rows) {
    if (cells.length > width) cells.length = width;
    while (cells.length < width) cells.push('');
    for (let c = 0; c < width; c++) {
      // missing cells are holes in the row
      const cell = cells[c] ?? '';
      const kept = isKeepable(cell) ? cell : keepable(cell);
      if (kept !== cell) mended++;
      cells[c] = kept;
    }
  }
  const numbers = rows.map((r) => r.number);
  const first = numbers[0] ?? 1;
  const blank = rows.length === 0 ? 0 : Math.max(0, numbers.at(-1)! - first + 1 - rows.length);
  return {
    rows: rows.map(({ cells }) => cells),
    numbers,
    notes: [
      ...(blank > 0 ? [`${counted(blank, 'blank row was', 'blank rows were')} left out.`] : []),
      ...(mended > 0
        ? [`In ${counted(mended, 'cell', 'cells')} a character that cannot be stored was removed.`]
        : []),
    ],
  };
}

const bomb = (name: string): IntakeError =>
  new IntakeError(
    `${name} would unpack to more than ${megabytes(mostUnpacked)}, far more than a list needs. It was not opened. Save the sheet as CSV and bring that in.`,
  );

/**
 * Finds out how large the contents of a ZIP are: by its directory, and then, since that may lie, by
 * unpacking it without storing anything.
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
  for (let at = 0; at < bytes.length; at += step)
    unzip.push(bytes.subarray(at, at + step), at + step >= bytes.length);
  return names;
}

function readZipped(name: string, bytes: Uint8Array): Book {
  let names: Set<string>;
  try {
    names = inspectZip(bytes, name);
  } catch (error) {
    if (error instanceof IntakeError) throw error;
    throw new IntakeError(
      `${name} is damaged: its packed parts do not open. Save it again from the program it comes from.`,
    );
  }
  if (names.has('xl/workbook.xml') || names.has('xl/workbook.bin'))
    return readWorkbook(name, bytes, 'XLSX', new Map(), formulasWithoutResult(bytes));
  if (names.has('content.xml') && names.has('mimetype'))
    return readWorkbook(name, bytes, 'ODS', inspectOds(name, bytes));
  if (names.has('word/document.xml'))
    throw new IntakeError(`${name} is a text document, not a spreadsheet. ${whatToDo}`);
  throw new IntakeError(
    `${name} is a ZIP file, not a spreadsheet. Unpack it and bring in the spreadsheet inside.`,
  );
}

interface HiddenParts {
  rows: Set<number>;
  columns: Set<number>;
  filtered: boolean;
}

/**
 * What the spreadsheet package does not report about an ODS (OpenDocument 1.3): hidden rows and
 * columns. Repeated cells are counted before anything is unfolded.
 */
function inspectOds(name: string, bytes: Uint8Array): Map<string, HiddenParts> {
  const content = strFromU8(
    unzipSync(bytes, { filter: (file) => file.name === 'content.xml' })['content.xml'] ??
      new Uint8Array(),
  );
  const tables = new Map<string, HiddenParts>();
  let table: HiddenParts | undefined;
  let [row, column, repeats, cells] = [0, 0, 1, 0];
  const limits = new Limits(name);
  const tag = /<table:(table|table-column|table-row|table-cell)(?=[\s/>])([^>]*?)(\/?)>/g;
  for (let found = tag.exec(content); found; found = tag.exec(content)) {
    const [, kind, attributes, closed] = found;
    const times = (what: string) =>
      Number(new RegExp(`table:number-${what}-repeated="(\\d+)"`).exec(attributes!)?.[1] ?? 1);
    const hidden = /table:visibility="(collapse|filter)"/.exec(attributes!)?.[1];
    const mark = (set: Set<number>, from: number, count: number) => {
      for (let i = from; i < from + Math.min(count, 300_000); i++) set.add(i);
    };
    if (kind === 'table') {
      table = { rows: new Set(), columns: new Set(), filtered: false };
      tables.set(unescaped(/table:name="([^"]*)"/.exec(attributes!)?.[1] ?? ''), table);
      [row, column] = [0, 0];
    } else if (kind === 'table-column') {
      if (hidden && table) mark(table.columns, column, times('columns'));
      column += times('columns');
    } else if (kind === 'table-row') {
      repeats = times('rows');
      if (hidden && table) mark(table.rows, row, repeats);
      if (hidden === 'filter' && table) table.filtered = true;
      row += repeats;
    } else if (!closed && kind === 'table-cell') {
      cells += repeats * times('columns');
      if (cells > 25_000_000 || times('columns') > 20_000)
        throw new IntakeError(
          `${name} repeats cells ${cells.toLocaleString('en')} times, more than a list can hold. It was not opened.`,
        );
    }
  }
  for (const { columns } of tables.values())
    if (columns.size > 16_384) limits.columns(columns.size);
  return tables;
}

/**
 * Cells of each sheet of an XLSX (ECMA-376) that hold a formula and no result, which the reader of
 * spreadsheets takes for 0: a file that was written by a program and never calculated has them.
 */
function formulasWithoutResult(bytes: Uint8Array): Map<string, Set<string>> {
  const parts = unzipSync(bytes, {
    filter: ({ name }) =>
      /^xl\/(workbook\.xml|_rels\/workbook\.xml\.rels|worksheets\/[^/]+\.xml)$/.test(name),
  });
  const text = (name: string) => (parts[name] ? strFromU8(parts[name]) : '');
  const targets = new Map<string, string>();
  for (const [tag] of text('xl/_rels/workbook.xml.rels').matchAll(/<Relationship\b[^>]*>/g)) {
    const [id, target] = ['Id', 'Target'].map(
      (name) => new RegExp(`\\b${name}="([^"]*)"`).exec(tag)?.[1] ?? '',
    );
    targets.set(id!, target!.replace(/^\/?xl\//, ''));
  }
  const found = new Map<string, Set<string>>();
  for (const [tag] of text('xl/workbook.xml').matchAll(/<sheet\b[^>]*>/g)) {
    const xml = text(`xl/${targets.get(/\br:id="([^"]*)"/.exec(tag)?.[1] ?? '') ?? ''}`);
    const cells = new Set<string>();
    for (let at = xml.indexOf('<f'); at >= 0; at = xml.indexOf('<f', at + 2)) {
      if (!/[\s>/]/.test(xml[at + 2] ?? '')) continue;
      const end = xml.indexOf('</c>', at);
      if (end < 0 || xml.slice(at, end).includes('<v')) continue;
      const opened = xml.slice(xml.lastIndexOf('<c ', at), at);
      const reference = /\br="([A-Z]+\d+)"/.exec(opened)?.[1];
      if (reference && !opened.includes('<v')) cells.add(reference);
    }
    if (cells.size > 0) found.set(unescaped(/\bname="([^"]*)"/.exec(tag)?.[1] ?? ''), cells);
  }
  return found;
}

const unescaped = (text: string): string =>
  text.replace(
    /&(lt|gt|quot|apos|amp);/g,
    (_, n: string) => ({ lt: '<', gt: '>', quot: '"', apos: "'", amp: '&' })[n] ?? '',
  );

function readWorkbook(
  name: string,
  bytes: Uint8Array,
  kind: string,
  hiddenParts: ReadonlyMap<string, HiddenParts>,
  withoutResult: ReadonlyMap<string, ReadonlySet<string>> = new Map(),
): Book {
  try {
    const workbook = read(bytes, {
      type: 'array',
      dense: true,
      cellNF: true,
      cellText: true,
      cellHTML: false,
      cellStyles: kind !== 'ODS',
    });
    const hidden = workbook.Workbook?.Sheets ?? [];
    const sheets = workbook.SheetNames.map((sheetName, i) => ({
      name: sheetName,
      hidden: (hidden[i]?.Hidden ?? 0) > 0,
      ...sheetRows(
        name,
        workbook.Sheets[sheetName]!,
        hiddenParts.get(sheetName),
        withoutResult.get(sheetName),
      ),
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

/**
 * Only cells that are there are walked: a sheet may say of itself that it reaches to the last row
 * and column there can be.
 */
function sheetRows(
  name: string,
  sheet: WorkSheet,
  hiddenParts: HiddenParts | undefined,
  withoutResult: ReadonlySet<string> | undefined,
): Omit<Sheet, 'name' | 'hidden'> {
  const data = (sheet as WorkSheet & { '!data'?: (CellObject | undefined)[][] })['!data'] ?? [];
  const limits = new Limits(name);
  const found = { rounded: 0, errors: 0, withoutResult: 0, defaultDates: 0 };
  const rows: { number: number; cells: string[] }[] = [];
  const doubts = new Map<number, Record<number, Doubt>>();
  const links = new Map<number, Record<number, string>>();
  const places = new Map<number, number>();
  for (const r of Object.keys(data).map(Number)) {
    const cells: string[] = [];
    const own: Record<number, Doubt> = {};
    const targets: Record<number, string> = {};
    for (const [at, cell] of Object.entries(data[r] ?? [])) {
      if (!cell) continue;
      const c = Number(at);
      if (withoutResult?.has(utils.encode_cell({ r, c }))) {
        own[c] = 'no-result';
        continue;
      }
      if (cell.t === 'e' && cell.v !== undefined) found.errors++;
      const doubt = doubtOf(cell);
      if (doubt) own[c] = doubt;
      const text = cellText(cell, found);
      if (text === '') continue;
      limits.columns(c + 1);
      while (cells.length < c) cells.push('');
      cells[c] = text;
      const target = linkOf(cell);
      if (target && target !== text) targets[c] = target;
    }
    const doubtful = Object.keys(own).length > 0;
    if (!limits.row(cells)) continue;
    for (const doubt of Object.values(own))
      if (doubt === 'rounded') found.rounded++;
      else found.withoutResult++;
    if (doubtful) doubts.set(rows.length, own);
    if (Object.keys(targets).length > 0) links.set(rows.length, targets);
    places.set(r, rows.length);
    rows.push({ number: r + 1, cells });
  }
  const { notes, ...shown } = trimmed(rows);
  if (found.rounded)
    notes.push(
      `${counted(found.rounded, 'number has', 'numbers have')} over 15 digits, which the spreadsheet has already rounded. Format the column as text there and type them again.`,
    );
  if (found.errors)
    notes.push(
      `${counted(found.errors, 'cell holds', 'cells hold')} a formula error; their records will need a look.`,
    );
  if (found.withoutResult)
    notes.push(
      `${counted(found.withoutResult, 'formula has', 'formulas have')} no result stored in the file, so those cells are blank here. Open the file in a spreadsheet program, save it, and bring it in again.`,
    );
  if (found.defaultDates)
    notes.push(
      `${counted(found.defaultDates, 'date has', 'dates have')} no format of their own in the file; they are written as 2026-11-23.`,
    );
  return { ...shown, notes, doubts, links, ...layoutOf(sheet, places, hiddenParts) };
}

/** Hidden rows and columns and merged cells, by the indexes of the filled rows. */
function layoutOf(
  sheet: WorkSheet,
  places: ReadonlyMap<number, number>,
  parts: HiddenParts | undefined,
): Pick<Sheet, 'hiddenRows' | 'hiddenColumns' | 'filtered' | 'merged'> {
  const hiddenRows = new Set<number>();
  for (const [r, at] of places)
    if (sheet['!rows']?.[r]?.hidden || parts?.rows.has(r)) hiddenRows.add(at);
  const hiddenColumns = new Set<number>(parts?.columns);
  sheet['!cols']?.forEach((column, c) => column?.hidden && hiddenColumns.add(c));
  const merged = (sheet['!merges'] ?? []).flatMap(({ s, e }) => {
    const from = places.get(s.r);
    const inside = [...places].filter(([r]) => r > s.r && r <= e.r).map(([, at]) => at);
    return from === undefined || inside.length === 0 || s.c !== e.c
      ? []
      : [{ column: s.c, from, to: Math.max(...inside) }];
  });
  return {
    hiddenRows,
    hiddenColumns,
    filtered: Boolean(sheet['!autofilter'] && hiddenRows.size > 0) || Boolean(parts?.filtered),
    merged,
  };
}

/**
 * The web or email address that a cell links to, by its hyperlink or by its formula; undefined for
 * a link to another cell or file.
 */
function linkOf(cell: CellObject): string | undefined {
  const target = cell.l?.Target ?? /^\s*HYPERLINK\(\s*"([^"]+)"/i.exec(cell.f ?? '')?.[1];
  if (target === undefined || target.length > 2000 || !isKeepable(target)) return undefined;
  if (/^https?:\/\/\S+$/i.test(target)) return target;
  const email = /^mailto:([^?\s]+)/i.exec(target)?.[1];
  return email && looksLikeEmail(email) ? email : undefined;
}

function doubtOf(cell: CellObject): Doubt | undefined {
  if (cell.f !== undefined && (cell.v === undefined || cell.v === null)) return 'no-result';
  return cell.t === 'n' &&
    typeof cell.v === 'number' &&
    Number.isInteger(cell.v) &&
    Math.abs(cell.v) >= 1e15
    ? 'rounded'
    : undefined;
}

/** The value as a person reads it in the sheet, except that whole numbers keep every digit. */
function cellText(cell: CellObject, found: { defaultDates: number }): string {
  if (cell.v === undefined || cell.v === null) return '';
  if (cell.t === 's') return String(cell.v);
  // the two formats that mean "as dates are written in the reader's country" (ECMA-376, number
  // formats 14 and 22)
  if (
    cell.t === 'n' &&
    (cell.z === 'm/d/yy' || cell.z === 'm/d/yy h:mm') &&
    /^\d{1,2}\/\d{1,2}\/\d\d( |$)/.test(cell.w ?? '')
  ) {
    found.defaultDates++;
    return SSF.format(cell.z === 'm/d/yy' ? 'yyyy-mm-dd' : 'yyyy-mm-dd hh:mm', cell.v) as string;
  }
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

/**
 * The formatter leaves out formats with bare points, such as dd.mm.yyyy; quoted, they are what the
 * sheet shows.
 */
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
