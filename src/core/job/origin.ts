import * as z from 'zod';
import { sheetChoicesSchema, textReadingSchema } from '../records/reading';

const sheet = {
  sheet: z.string().max(200).optional(),
  ...sheetChoicesSchema.shape,
  /** How a text was said to be read. */
  reading: textReadingSchema.optional(),
};

/** Where a list's records come from, and what must be known to read them again. */
export const originSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('file'), name: z.string(), ...sheet }),
  z.object({ kind: z.literal('paste'), ...sheet }),
  z.object({ kind: z.literal('typed') }),
  /** A file of the In-tray, read again whenever it is saved. */
  z.object({ kind: z.literal('tray'), name: z.string(), ...sheet, takes: z.boolean() }),
  /** A folder of files, one record each: of the In-tray, or of the coordinator's own machine. */
  z.object({
    kind: z.literal('folder'),
    name: z.string(),
    base: z.string().max(500),
    tray: z.boolean(),
  }),
  z.object({
    kind: z.literal('database'),
    connection: z.number().int(),
    query: z.string().min(1).max(20_000),
    name: z.string(),
  }),
]);
export type Origin = z.infer<typeof originSchema>;

/** Whether the source can be read again without anybody choosing a file. */
export const readsItself = (origin: Origin | null): boolean =>
  origin?.kind === 'tray' ||
  origin?.kind === 'database' ||
  (origin?.kind === 'folder' && origin.tray);
