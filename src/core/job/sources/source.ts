import * as z from 'zod';
import { sheetChoicesSchema, textReadingSchema } from '../../records/reading';

/** What was chosen of a file with sheets in it. */
export const sheet = {
  sheet: z.string().max(200).optional(),
  ...sheetChoicesSchema.shape,
  /** How a text was said to be read. */
  reading: textReadingSchema.optional(),
};

/** What can be said anywhere of a kind of source. */
export interface SourceDescription<O extends { kind: string }> {
  /** What it is, beside its name among the lists; blank where the name says it all. */
  about: string;
  /** Behind the name of the source; blank where the name says it all. */
  where: string;
  /** Whether it is read again without anybody choosing a file; never where there is none. */
  readsItself(origin: O): boolean;
  /** Nobody can read it again: there is nothing to read. */
  gone?: true;
  /** It is a text or a spreadsheet, whose sheet, headings and encoding can be said otherwise. */
  sheets: boolean;
  /** Whether a file or folder of the In-tray belongs to it. */
  inTray?(origin: O, name: string): boolean;
  /**
   * Whether it is read again by itself when it is saved, and taken where nothing is lost by it;
   * undefined where nothing is saved that is heard of.
   */
  takes?(origin: O): boolean;
}

/** What a source that is asked for begins as: where it comes from, and what comes with it. */
export interface Begun<O> {
  origin: O;
  /** What it holds, where whoever asks brings it along. */
  rows?: string[][];
  /** The list that is read again by it. */
  list?: number;
}

/**
 * How a source is asked for that is not sent as a file.
 * @param asked the schema of what is asked, and what it begins as
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
 * @param description with the schema of what must be known to read it again
 */
export const defineSource = <T extends z.ZodType<{ kind: string }>>(
  description: SourceDescription<z.output<T>> & { schema: T },
): SourceDescription<z.output<T>> & { schema: T } => description;
