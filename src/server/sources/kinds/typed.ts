import { readBook } from '../files/book';
import type { OriginOf, SourceReader } from './kind';

/** What is typed into a new list is sent as a text of its headings. */
export const typed: SourceReader<OriginOf<'typed'>> = {
  book: (name, _, bytes) => readBook(name, bytes),
};
