/**
 * The sources of records, one file for each kind: what is stored of it with a list, and what is
 * known about it everywhere. Reading it is in the server.
 */
import * as z from 'zod';
import { database, databaseAsked } from './database';
import { file } from './file';
import { folder, folderAsked, trayFolderAsked } from './folder';
import { paste } from './paste';
import type { Begun, SourceDescription } from './source';
import { tray, trayAsked } from './tray';
import { typed } from './typed';

const sources = [file, paste, typed, tray, folder, database] as const;
type SchemasOf<T extends readonly { schema: unknown }[]> = { [I in keyof T]: T[I]['schema'] };

/** The source of a list, with everything needed to read it again. */
export const originSchema = z.discriminatedUnion(
  'kind',
  sources.map((source) => source.schema) as unknown as SchemasOf<typeof sources>,
);
export type Origin = z.infer<typeof originSchema>;

const byKind = new Map(
  sources.map((source) => [
    source.schema.shape.kind.value,
    source as unknown as SourceDescription<Origin>,
  ]),
);

export const sourceKinds = sources.map((source) => source.schema.shape.kind.value);

/** Everything about the kind of a source. */
export const sourceOf = ({ kind }: Pick<Origin, 'kind'>): SourceDescription<Origin> =>
  byKind.get(kind)!;

/** Whether the source can be read again without anybody choosing a file. */
export const readsItself = (origin: Origin | null): boolean =>
  origin !== null && sourceOf(origin).readsItself(origin);

const asked = [trayAsked, trayFolderAsked, databaseAsked, folderAsked] as const;

/** Sources that are not uploaded: the In-tray, a database, a list of files. */
export const fetchedSchema = z.discriminatedUnion(
  'kind',
  asked.map((one) => one.schema) as unknown as SchemasOf<typeof asked>,
);
export type Fetched = z.input<typeof fetchedSchema>;

/** The stored form of a requested source. */
export function begunAs(wanted: z.output<typeof fetchedSchema>): Begun<Origin> {
  const one = asked.find(({ schema }) => schema.shape.kind.value === wanted.kind)!;
  return (one.begin as (wanted: unknown) => Begun<Origin>)(wanted);
}
