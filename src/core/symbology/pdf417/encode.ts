import { mostBytes } from '../bits';
import { EncodeError, type MatrixSymbol } from '../types';
import { compactBytes, eciUtf8 } from './compaction';
import { checkWords } from './correction';
import { patternBits } from './patterns';

export interface Pdf417Options {
  /**
   * Error correction level 0 to 8; by the amount of data, as the standard recommends, when left
   * out.
   */
  pdf417Level?: number;
  /** Data columns, 1 to 30; the nearest to `aspect` when left out. */
  pdf417Columns?: number;
  /** Wanted width to height; 2.5 when left out. */
  pdf417Aspect?: number;
  /** Compact form: without right row indicators, for places where symbols are not damaged. */
  pdf417Compact?: boolean;
}

interface Plan {
  words: number[];
  level: number;
  columns: number;
  rows: number;
}

/** Modules that one row is high. */
const rowHeight = 3;
const mostWords = 928;

/**
 * Compacts a payload and chooses level and size.
 * @throws EncodeError when it is empty, too long, or the wanted size does not exist
 */
function planPdf417(payload: string | Uint8Array, options: Pdf417Options = {}): Plan {
  if (payload.length === 0)
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  const {
    pdf417Level: wantedLevel,
    pdf417Columns: wantedColumns,
    pdf417Aspect: aspect = 2.5,
    pdf417Compact: compact = false,
  } = options;
  if (
    wantedLevel !== undefined &&
    !(Number.isInteger(wantedLevel) && wantedLevel >= 0 && wantedLevel <= 8)
  )
    throw new EncodeError('option', `PDF417 has the correction levels 0 to 8, not ${wantedLevel}.`);
  if (
    wantedColumns !== undefined &&
    !(Number.isInteger(wantedColumns) && wantedColumns >= 1 && wantedColumns <= 30)
  )
    throw new EncodeError('option', `PDF417 has 1 to 30 columns, not ${wantedColumns}.`);
  const bytes = typeof payload === 'string' ? new TextEncoder().encode(payload) : payload;
  const eci = typeof payload === 'string' && bytes.length !== payload.length;
  const words = bytes.length > 2800 ? undefined : [...(eci ? eciUtf8 : []), ...compactBytes(bytes)];
  const length = words?.length ?? Infinity;
  const level = wantedLevel ?? (length <= 40 ? 2 : length <= 160 ? 3 : length <= 320 ? 4 : 5);
  const total = 1 + length + 2 ** (level + 1);
  if (!words || total > mostWords) {
    const lower = level > 0 && wantedLevel !== undefined && 1 + length + 2 <= mostWords;
    throw new EncodeError(
      'length',
      `Too long: ${payload.length.toLocaleString('en')} characters. The largest PDF417 holds about 1,850 letters or 2,710 digits at the lowest correction level.`,
      {
        mend: lower
          ? 'Use a lower correction level, or shorten it.'
          : 'Shorten it, or use a QR code.',
      },
    );
  }
  let best: { columns: number; rows: number } | undefined;
  let distance = Infinity;
  for (let columns = wantedColumns ?? 1; columns <= (wantedColumns ?? 30); columns++) {
    const rows = Math.max(3, Math.ceil(total / columns));
    if (rows > 90 || rows * columns > mostWords) continue;
    const away = Math.abs(Math.log(symbolWidth(columns, compact) / (rows * rowHeight) / aspect));
    if (away < distance) [best, distance] = [{ columns, rows }, away];
  }
  if (!best)
    throw new EncodeError(
      'length',
      `Too long for ${wantedColumns} ${wantedColumns === 1 ? 'column' : 'columns'}: a PDF417 has at most 90 rows.`,
      { mend: 'Use more columns, or shorten it.' },
    );
  return { words, level, ...best };
}

/**
 * Bytes of which any symbol of free width holds any, at the highest level: of 928 words it takes
 * 512 for correction, and six bytes are five words.
 */
const alwaysFits = 450;

/**
 * Whether a payload can be encoded at all.
 * @throws EncodeError if `planPdf417` does
 */
export function checkPdf417(payload: string | Uint8Array, options: Pdf417Options = {}): void {
  const free = options.pdf417Columns === undefined && options.pdf417Level === undefined;
  const bytes = mostBytes(payload);
  if (!free || bytes === 0 || bytes > alwaysFits) planPdf417(payload, options);
}

const symbolWidth = (columns: number, compact: boolean): number =>
  17 * columns + (compact ? 35 : 69);

const start = [8, 1, 1, 1, 1, 1, 1, 3];
const stop = [7, 1, 1, 3, 1, 1, 1, 2, 1];

/** Encodes a payload as PDF417. Each row is three modules high. */
export function encodePdf417(
  payload: string | Uint8Array,
  options: Pdf417Options = {},
): MatrixSymbol {
  const { words, level, columns, rows } = planPdf417(payload, options);
  const compact = options.pdf417Compact ?? false;
  const data = [rows * columns - 2 ** (level + 1), ...words];
  while (data.length < data[0]!) data.push(900);
  const all = [...data, ...checkWords(data, level)];
  const width = symbolWidth(columns, compact);
  const modules = new Uint8Array(width * rows);
  for (let r = 0; r < rows; r++) {
    let at = r * width;
    const put = (widths: readonly number[]) =>
      widths.forEach((w, i) => {
        if (i % 2 === 0) modules.fill(1, at, at + w);
        at += w;
      });
    const word = (value: number) => {
      const bits = patternBits(r % 3, value);
      for (let k = 16; k >= 0; k--) modules[at++] = (bits >> k) & 1;
    };
    const base = 30 * Math.floor(r / 3);
    // what a row indicator says turns with the row: rows, level, columns
    const facts = [Math.floor((rows - 1) / 3), level * 3 + ((rows - 1) % 3), columns - 1];
    put(start);
    word(base + facts[r % 3]!);
    for (let c = 0; c < columns; c++) word(all[r * columns + c]!);
    if (compact) put([1]);
    else {
      word(base + facts[(r + 2) % 3]!);
      put(stop);
    }
  }
  return {
    kind: 'matrix',
    symbology: 'pdf417',
    columns: width,
    rows,
    modules,
    rowHeights: new Array<number>(rows).fill(rowHeight),
    quietZone: { top: 2, right: 2, bottom: 2, left: 2 },
    payload,
    facts: { columns, rows, level, compact },
  };
}
