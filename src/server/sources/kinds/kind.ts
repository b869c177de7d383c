import type { TakeOptions } from '../../../contract';
import type { Origin } from '../../../core/job/sources';
import { type Database, IntakeError } from '../../platform';
import { type Book, plainSheet } from '../files/book';

export type OriginOf<K extends Origin['kind']> = Extract<Origin, { kind: K }>;
/** The choices for a workbook (sheet, heading row), as stored with the list. */
type Chosen = Omit<TakeOptions, 'sheet' | 'follow' | 'roles' | 'name'> & {
  sheet: string | undefined;
};

/** How a kind of source is fetched and read. */
export interface SourceReader<O extends Origin = Origin> {
  /** The contents, if the intake does not bring them. @throws IntakeError, Refusal */
  fetch?(db: Database, origin: O): Promise<Buffer>;
  /** The contents as sheets. @throws IntakeError in the user's words */
  book(name: string, origin: O, bytes: Buffer): Book;
  /** What is needed to read it again; by default as it came. */
  taken?(origin: O, chosen: Chosen, follow: boolean): O;
}

/** Rows that were read, as stored with an intake. */
export const rowsAsBytes = (rows: readonly (readonly string[])[]): Buffer =>
  Buffer.from(JSON.stringify(rows));

/** The way back. @throws IntakeError from `none` if there are only headings */
export function bookOfRows(kind: string, name: string, bytes: Buffer, none: string): Book {
  const rows = JSON.parse(bytes.toString('utf8')) as string[][];
  if (rows.length < 2) throw new IntakeError(none);
  return { kind, sheets: [plainSheet(name, rows)] };
}
