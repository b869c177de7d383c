import { trayFolderRows } from '../tray';
import { bookOfRows, type OriginOf, rowsAsBytes, type SourceReader } from './kind';

export const folder: SourceReader<OriginOf<'folder'>> = {
  // one of the coordinator's own machine comes with the intake
  fetch: async (_, { name, base, tray }) =>
    tray ? rowsAsBytes(await trayFolderRows(name, base)) : Buffer.alloc(0),
  book: (name, origin, bytes) =>
    bookOfRows('a folder of files', name, bytes, `There is no file in ${origin.name}.`),
};
