import { readBook } from '../files/book';
import type { OriginOf, SourceReader } from './kind';

export const file: SourceReader<OriginOf<'file'>> = {
  book: (name, { reading }, bytes) => readBook(name, bytes, reading),
  taken: ({ name, reading }, chosen) => ({
    kind: 'file',
    name,
    ...chosen,
    ...(reading ? { reading } : {}),
  }),
};
