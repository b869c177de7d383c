import * as z from 'zod';
import { sheetChoicesSchema, textReadingSchema } from '../../records/reading';

/** The choices for a file with sheets. */
export const sheet = {
  sheet: z.string().max(200).optional(),
  ...sheetChoicesSchema.shape,
  /** The choices for reading a text. */
  reading: textReadingSchema.optional(),
};

/** What is known about a kind of source everywhere. */
export interface SourceDescription<O extends { kind: string }> {
  /** Its kind, next to its name among the lists; blank if the name says it all. */
  about: string;
  /** After the name of the source; blank if the name says it all. */
  where: string;
  /** Whether it is read again without choosing a file; false if there is none. */
  readsItself(origin: O): boolean;
  /** It cannot be read again: there is nothing to read. */
  gone?: true;
  /** It is a text or a spreadsheet, whose sheet, headings and encoding can be changed. */
  sheets: boolean;
  /** Whether a file or folder of the In-tray belongs to it. */
  inTray?(origin: O, name: string): boolean;
  /**
   * Whether it is read again when it is saved, and applied if nothing is lost; undefined if saving
   * is not noticed.
   */
  takes?(origin: O): boolean;
}

/** The stored form of a requested source, and what comes with it. */
export interface Begun<O> {
  origin: O;
  /** Its contents, if the request brings them along. */
  rows?: string[][];
  /** The list that it updates. */
  list?: number;
}

/**
 * The request for a source that is not uploaded as a file.
 * @param asked the schema of the request, and its stored form
 */
export const defineAsked = <
  T extends z.ZodType<{ kind: string; name: string }>,
  O extends { kind: string },
>(asked: {
  schema: T;
  begin(wanted: z.output<T>): Begun<O>;
}): typeof asked => asked;

/**
 * A kind of source.
 * @param description with the schema of everything needed to read it again
 */
export const defineSource = <T extends z.ZodType<{ kind: string }>>(
  description: SourceDescription<z.output<T>> & { schema: T },
): SourceDescription<z.output<T>> & { schema: T } => description;
