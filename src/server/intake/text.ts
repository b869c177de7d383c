import { parse } from 'csv-parse/sync';

export interface DecodedText {
  text: string;
  /** Name of the encoding, for people. */
  encoding: string;
}

/** Turns the bytes of a text file into text: byte order marks first, then UTF-16 by its zeros, UTF-8, at last Windows-1252. */
export function decodeText(bytes: Uint8Array): DecodedText {
  const starts = (...mark: number[]) => mark.every((b, i) => bytes[i] === b);
  if (starts(0xef, 0xbb, 0xbf)) return { text: new TextDecoder('utf-8').decode(bytes), encoding: 'UTF-8' };
  if (starts(0xff, 0xfe)) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
  if (starts(0xfe, 0xff)) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
  const sample = bytes.subarray(0, 4000);
  const zeros = [0, 0];
  sample.forEach((b, i) => b === 0 && zeros[i & 1]++);
  if (zeros[1] > sample.length / 5 && zeros[0] === 0) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
  if (zeros[0] > sample.length / 5 && zeros[1] === 0) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' };
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'Windows-1252' };
  }
}

const separators = { ',': 'commas', ';': 'semicolons', '\t': 'tabs' } as const;
type Separator = keyof typeof separators;

/** Which separator cuts the first lines into the same number of cells; commas when none does. */
export function findSeparator(text: string): Separator {
  const lines = firstLines(text, 20);
  let best: Separator = ',';
  let bestScore = 0;
  for (const separator of Object.keys(separators) as Separator[]) {
    const counts = lines.map((line) => countOutsideQuotes(line, separator));
    // the count most lines agree on: a title line above the table must not decide
    const common = Math.max(
      0,
      ...counts
        .filter((n) => n > 0)
        .sort((a, b) => timesIn(counts, a) - timesIn(counts, b))
        .slice(-1),
    );
    if (common === 0) continue;
    const score = (timesIn(counts, common) / counts.length) * 100 + Math.min(common, 50);
    if (score > bestScore) [best, bestScore] = [separator, score];
  }
  return best;
}

const timesIn = (counts: readonly number[], wanted: number): number => counts.filter((n) => n === wanted).length;

/** Logical lines: a line break inside quotes does not end one. */
function firstLines(text: string, most: number): string[] {
  const lines: string[] = [];
  let quoted = false;
  let start = 0;
  for (let i = 0; i < text.length && lines.length < most; i++) {
    if (text[i] === '"') quoted = !quoted;
    else if (text[i] === '\n' && !quoted) {
      lines.push(text.slice(start, i));
      start = i + 1;
    }
  }
  if (lines.length < most && start < text.length) lines.push(text.slice(start));
  return lines.filter((line) => line.trim() !== '');
}

function countOutsideQuotes(line: string, separator: string): number {
  let quoted = false;
  let count = 0;
  for (const c of line) {
    if (c === '"') quoted = !quoted;
    else if (c === separator && !quoted) count++;
  }
  return count;
}

/** Cuts separated text into rows of cells, every value as it was written. */
export function parseSeparated(text: string): { rows: string[][]; separator: string } {
  const separator = findSeparator(text);
  const rows = parse(text, {
    delimiter: separator,
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: false,
    bom: true,
  }) as string[][];
  return { rows, separator: separators[separator] };
}
