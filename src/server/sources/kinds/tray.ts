import { readBook } from '../files/book';
import { trayFile } from '../tray';
import type { OriginOf, SourceReader } from './kind';

export const tray: SourceReader<OriginOf<'tray'>> = {
  fetch: (_, { name }) => trayFile(name),
  book: (name, { reading }, bytes) => readBook(name, bytes, reading),
  taken: (origin, chosen, follow) => ({ ...origin, ...chosen, takes: follow }),
};
