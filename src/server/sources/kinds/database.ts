import { readQuery } from '../connections';
import { bookOfRows, type OriginOf, rowsAsBytes, type SourceReader } from './kind';

export const database: SourceReader<OriginOf<'database'>> = {
  fetch: async (db, { connection, query }) => rowsAsBytes(await readQuery(db, connection, query)),
  book: (name, origin, bytes) =>
    bookOfRows(
      'a database',
      name,
      bytes,
      `${origin.name} has no rows, so there are no records to bring in.`,
    ),
};
