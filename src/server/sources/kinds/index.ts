/** How each kind of source is fetched and read. */
import type { Origin } from '../../../core/job/sources';
import { database } from './database';
import { file } from './file';
import { folder } from './folder';
import type { OriginOf, SourceReader } from './kind';
import { paste } from './paste';
import { tray } from './tray';
import { typed } from './typed';

const readers: { [K in Origin['kind']]: SourceReader<OriginOf<K>> } = {
  file,
  paste,
  typed,
  tray,
  folder,
  database,
};

export const readerOf = ({ kind }: Pick<Origin, 'kind'>): SourceReader =>
  readers[kind] as SourceReader;
