import { readBook } from '../files/book';
import type { OriginOf, SourceReader } from './kind';

export const paste: SourceReader<OriginOf<'paste'>> = {
  book: (name, { reading }, bytes) => readBook(name, bytes, reading),
  taken: (origin, chosen) => ({ ...origin, ...chosen }),
};
