import { analyse } from 'chardet';
import { CsvError, parse } from 'csv-parse/sync';
import iconv from 'iconv-lite';
import {
  encodingIds,
  encodingName,
  separatorIds,
  type EncodingId,
  type Separator,
  type TextReading,
} from '../../../core/records/reading';
import { IntakeError } from '../../platform';
import type { Limits } from './limits';

export interface DecodedText {
  text: string;
  id: EncodingId;
  /** Name of the encoding, for people. */
  encoding: string;
  /** The bytes allow another reading that is nearly as likely. */
  doubtful: boolean;
}

const startsWith = (bytes: Uint8Array, ...mark: number[]): boolean =>
  mark.every((b, i) => bytes[i] === b);
const decoded = (bytes: Uint8Array, id: EncodingId, doubtful = false): DecodedText => ({
  text: iconv.decode(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), id),
  id,
  encoding: encodingName(id),
  doubtful,
});

/**
 * Decodes a text file: as chosen, else by byte order marks, zeros of UTF-16, UTF-8, and at last by
 * what is likely.
 */
export function decodeText(bytes: Uint8Array, wanted?: EncodingId): DecodedText {
  if (wanted) return decoded(bytes, wanted);
  if (startsWith(bytes, 0xef, 0xbb, 0xbf)) return decoded(bytes, 'utf-8');
  if (startsWith(bytes, 0xff, 0xfe)) return decoded(bytes, 'utf-16le');
  if (startsWith(bytes, 0xfe, 0xff)) return { ...decoded(bytes, 'utf-16be'), encoding: 'UTF-16' };
  const sample = bytes.subarray(0, 4000);
  const zeros = [0, 0];
  sample.forEach((b, i) => b === 0 && zeros[i & 1]!++);
  if (zeros[1]! > sample.length / 5 && zeros[0] === 0) return decoded(bytes, 'utf-16le');
  if (zeros[0]! > sample.length / 5 && zeros[1] === 0)
    return { ...decoded(bytes, 'utf-16be'), encoding: 'UTF-16' };
  try {
    return {
      text: new TextDecoder('utf-8', { fatal: true }).decode(bytes),
      id: 'utf-8',
      encoding: 'UTF-8',
      doubtful: false,
    };
  } catch {
    const { id, doubtful } = likelyEncoding(bytes);
    return decoded(bytes, id, doubtful);
  }
}

/** The detector's names for our encodings. */
const named: Readonly<Record<string, EncodingId>> = {
  'ISO-8859-1': 'windows-1252',
  'ISO-8859-5': 'windows-1251',
  'ISO-8859-7': 'windows-1253',
  'ISO-8859-8': 'windows-1255',
  'ISO-8859-9': 'windows-1254',
  Shift_JIS: 'shift_jis',
};
const severalBytes: readonly EncodingId[] = ['shift_jis', 'gb18030', 'big5', 'euc-kr'];
/** The default encoding: the most frequent one. */
const commonness: Partial<Record<EncodingId, number>> = {
  'windows-1252': 12,
  'windows-1250': 6,
  'windows-1251': 6,
  macintosh: 2,
};

/**
 * The encoding of bytes that are not UTF-8: a detector's statistics of languages, weighed with how
 * plausible the decoded words are. Short lists of names give statistics little to go on, and the
 * detector does not know old Apple and DOS encodings.
 */
function likelyEncoding(bytes: Uint8Array): { id: EncodingId; doubtful: boolean } {
  const sample = bytes.subarray(0, 200_000);
  const found = new Map<EncodingId, number>();
  for (const { name, confidence } of analyse(sample)) {
    const id = named[name] ?? encodingIds.find((e) => e === name.toLowerCase());
    if (id && !id.startsWith('utf')) found.set(id, Math.max(found.get(id) ?? 0, confidence));
  }
  const scores = encodingIds
    .filter((id) => !id.startsWith('utf'))
    .map((id) => ({
      id,
      score: plausibility(sample, id) + (found.get(id) ?? 0) * 0.3 + (commonness[id] ?? 0),
    }))
    .sort((a, b) => b.score - a.score);
  const [best, next] = scores;
  // a few letters prove little
  const close = sample.reduce((sum, byte) => sum + (byte > 127 ? 1 : 0), 0) < 8 ? 25 : 10;
  const other =
    best!.score - next!.score < close &&
    decoded(sample, best!.id).text !== decoded(sample, next!.id).text;
  return { id: best!.id, doubtful: best!.score < 60 || other };
}

/** How much a reading looks like words: 100 if every letter beyond ASCII fits its neighbours. */
function plausibility(bytes: Uint8Array, id: EncodingId): number {
  const { text } = decoded(bytes, id);
  let all = 0;
  let good = 0;
  const letters = Array.from(text);
  for (let i = 0; i < letters.length; i++) {
    const c = letters[i]!;
    if (c.codePointAt(0)! < 128) continue;
    all++;
    good += standsWell(letters[i - 1] ?? ' ', c, letters[i + 1] ?? ' ');
  }
  if (all === 0) return 0;
  // several bytes a letter leave fewer letters, and random bytes seldom make common ones
  if (severalBytes.includes(id))
    return (
      (good / all) * 100 -
      (/[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Hangul}]{2}/u.test(text) ? 0 : 60)
    );
  return (good / all) * 100;
}

/** Characters beyond ASCII that occur in lists alone or between words. */
const usual = /[ºª°–—‘’“”„«»·•…€£§©®™№¡¿´×½¼²³\u00a0]/u;
const common =
  /[\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Hangul}\u3000-\u303f\uff00-\uffef]|[\u4e00-\u9fff]/u;

function standsWell(before: string, c: string, after: string): number {
  if (c === '\ufffd' || /\p{Cc}|\p{Co}|\p{Cn}/u.test(c)) return -2;
  if (common.test(c)) return 1;
  if (!/\p{L}/u.test(c)) {
    const between = /\p{L}/u.test(before) && /\p{L}/u.test(after);
    if (!usual.test(c)) return -1;
    return between && !/[’·–]/u.test(c) ? -1 : 0.7;
  }
  // a letter of another script inside a word
  const latin = /\p{sc=Latin}/u.test(c);
  for (const next of [before, after])
    if (/\p{L}/u.test(next) && /\p{sc=Latin}/u.test(next) !== latin) return -1;
  const [up, low] = [/\p{Lu}/u, /\p{Ll}/u];
  if (up.test(c) && low.test(before)) return -1;
  if (low.test(c) && up.test(before) && up.test(after)) return -1;
  if (low.test(c) && !/\p{L}/u.test(before) && /\p{Lu}/u.test(after)) return -1;
  // no Latin writing has three letters with signs in a row
  if (latin && [before, after].every((next) => next > '\x7f' && /\p{L}/u.test(next))) return -1;
  // a single letter means little
  if (!/\p{L}/u.test(before) && !/\p{L}/u.test(after)) return 0.3;
  return latin && /[ŸÝÞÐþðƒ]/.test(c) ? 0.4 : 1;
}

/** Which separator cuts the first lines into the same number of cells; commas when none does. */
export function findSeparator(text: string): Separator {
  const lines = firstLines(text, 20);
  let best: Separator = ',';
  let bestScore = 0;
  for (const separator of separatorIds) {
    const counts = lines.map((line) => countOutsideQuotes(line, separator));
    // the count most lines agree on: a title line above the table must not decide
    const agreed = counts
      .filter((n) => n > 0)
      .sort((a, b) => timesIn(counts, a) - timesIn(counts, b));
    const most = Math.max(0, ...agreed.slice(-1));
    if (most === 0) continue;
    const score = (timesIn(counts, most) / counts.length) * 100 + Math.min(most, 50);
    if (score > bestScore) [best, bestScore] = [separator, score];
  }
  return best;
}

const timesIn = (counts: readonly number[], wanted: number): number =>
  counts.filter((n) => n === wanted).length;

/** Logical lines: a line break inside quotes does not end one. */
function firstLines(text: string, most: number): string[] {
  const lines: string[] = [];
  let quoted = false;
  let start = 0;
  for (let i = 0; i < text.length && lines.length < most; i++) {
    if (text[i] === '"') quoted = !quoted;
    else if ((text[i] === '\n' || text[i] === '\r') && !quoted) {
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

/**
 * Removes spaces before an opening quote, which would make the quote a part of the value. Line by
 * line, so that line numbers stay right.
 */
function withoutSpacesBeforeQuotes(text: string, separator: Separator): string {
  if (!/[^\S\r\n]"/.test(text)) return text;
  let out = '';
  let quoted = false;
  let fieldStart = true;
  let kept = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (quoted) {
      if (c === '"' && text[i + 1] === '"') i++;
      else if (c === '"') quoted = false;
      continue;
    }
    if (fieldStart && (c === ' ' || (c === '\t' && separator !== '\t'))) {
      let end = i;
      while (text[end] === ' ' || (text[end] === '\t' && separator !== '\t')) end++;
      if (text[end] === '"') {
        out += text.slice(kept, i);
        kept = end;
      }
      i = end - 1;
      fieldStart = text[end] === '"';
      continue;
    }
    if (c === '"' && fieldStart) quoted = true;
    fieldStart = c === separator || c === '\n' || c === '\r';
  }
  return out + text.slice(kept);
}

export interface SeparatedText {
  /** Filled rows, each with its line number, from 1. */
  rows: { cells: string[]; line: number }[];
  separator: Separator;
}

/**
 * Cuts separated text into rows of cells, every value as it was written. `="00123"`, with which
 * programs keep zeros, is unwrapped.
 * @throws IntakeError when a quote is never closed, or a limit is passed
 */
export function parseSeparated(
  name: string,
  text: string,
  limits: Limits,
  wanted?: TextReading['separator'],
): SeparatedText {
  const separator = wanted ?? findSeparator(text);
  const rows: SeparatedText['rows'] = [];
  const shared = sharing();
  const keep = (record: readonly string[], line: number): void => {
    const cells = record.map(shared);
    if (limits.row(cells)) rows.push({ cells, line });
  };
  if (text.includes('"')) parseQuoted(name, text, separator, keep);
  else cutLines(text, separator, keep);
  return { rows, separator };
}

/** Is given the cells of a row and the line it ends on, from 1. */
type Keep = (cells: readonly string[], line: number) => void;

/**
 * Without quotes in a text, every separator separates and every line end ends a row. That takes a
 * third of the parser's time.
 */
function cutLines(text: string, separator: Separator, keep: Keep): void {
  const end = /\r\n|\n|\r/g;
  let line = 1;
  for (let from = text.startsWith('\ufeff') ? 1 : 0; from < text.length; line++) {
    const to = end.exec(text)?.index ?? text.length;
    keep(text.slice(from, to).split(separator), line);
    if (to === text.length) return;
    from = end.lastIndex;
  }
}

function parseQuoted(name: string, text: string, separator: Separator, keep: Keep): void {
  try {
    parse(withoutSpacesBeforeQuotes(text, separator), {
      delimiter: separator,
      record_delimiter: ['\r\n', '\n', '\r'],
      relax_column_count: true,
      relax_quotes: true,
      skip_empty_lines: false,
      bom: true,
      on_record: (record, { lines }) => {
        keep(record.map(unwrapped), lines);
        return null;
      },
    });
  } catch (error) {
    if (!(error instanceof CsvError)) throw error;
    throw new IntakeError(
      error.code === 'CSV_QUOTE_NOT_CLOSED'
        ? `In ${name} a quotation mark in line ${openedIn(text, separator).toLocaleString('en')} opens a value that is never closed. Close it, or remove the mark, and bring the file in again.`
        : `${name} cannot be split into rows: ${error.message}.`,
    );
  }
}

/** How many different cells are remembered, so that repeats take no memory of their own. */
const mostShared = 4_000;
const longestShared = 40;

/**
 * Returns one string for all equal cells: locations, kinds and yes or no occur a hundred thousand
 * times in a long list.
 */
function sharing(): (cell: string) => string {
  const seen = new Map<string, string>();
  return (cell) => {
    const known = seen.get(cell);
    if (known !== undefined) return known;
    if (seen.size < mostShared && cell.length <= longestShared) seen.set(cell, cell);
    return cell;
  };
}

/** Line, from 1, on which the quote opens that is never closed. */
function openedIn(text: string, separator: Separator): number {
  let [quoted, fieldStart, line, opened] = [false, true, 1, 1];
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (c === '\n' || (c === '\r' && text[i + 1] !== '\n')) line++;
    if (quoted) {
      if (c === '"' && text[i + 1] === '"') i++;
      else if (c === '"') quoted = false;
      continue;
    }
    if (c === '"' && fieldStart) [quoted, opened] = [true, line];
    fieldStart = c === separator || c === '\n' || c === '\r' || (fieldStart && c === ' ');
  }
  return opened;
}

const unwrapped = (cell: string): string =>
  /^="(?:[^"]|"")*"$/.test(cell) ? cell.slice(2, -1).replaceAll('""', '"') : cell;
