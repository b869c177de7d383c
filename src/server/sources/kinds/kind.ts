import type { TakeOptions } from '../../../contract';
import type { Origin } from '../../../core/job/sources';
import { type Database, IntakeError } from '../../platform';
import { type Book, plainSheet } from '../files/book';

export type OriginOf<K extends Origin['kind']> = Extract<Origin, { kind: K }>;
/** What was chosen of a book when it was taken, as it is kept with the list. */
type Chosen = Omit<TakeOptions, 'sheet' | 'follow' | 'roles' | 'name'> & {
  sheet: string | undefined;
};

/** How a kind of source is fetched and read. */
export interface SourceReader<O extends Origin = Origin> {
  /** What it holds, where that does not come with the intake. @throws IntakeError, Refusal */
  fetch?(db: Database, origin: O): Promise<Buffer>;
  /** What it holds as sheets. @throws IntakeError in words for whoever brings it in */
  book(name: string, origin: O, bytes: Buffer): Book;
  /** What must be known to read it again; as it came where nothing is said. */
  taken?(origin: O, chosen: Chosen, follow: boolean): O;
}

/** Rows that were fetched, as what is kept of an intake. */
export const rowsAsBytes = (rows: readonly (readonly string[])[]): Buffer =>
  Buffer.from(JSON.stringify(rows));

/** The way back. @throws IntakeError in `none` where there is nothing but headings */
export function bookOfRows(kind: string, name: string, bytes: Buffer, none: string): Book {
  const rows = JSON.parse(bytes.toString('utf8')) as string[][];
  if (rows.length < 2) throw new IntakeError(none);
  return { kind, sheets: [plainSheet(name, rows)] };
}
