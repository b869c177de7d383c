import type * as z from 'zod';

declare const shape: unique symbol;
/**
 * A document as it lies in the database, of whichever shape the version that wrote it knew. Only
 * {@link readStored} makes a `T` of it.
 */
export interface Stored<T> {
  readonly [shape]: T;
}

type Fields = Record<string, unknown>;

/** How documents of one kind are kept over the years. */
export interface StoredShape<T> {
  /** What it is called where it cannot be read, as in “the job”. */
  name: string;
  schema: z.ZodType<T>;
  /**
   * What brings a document of each shape to the one after it, the oldest first. A step that has
   * been in use is never changed: documents that it has not met yet still lie there.
   */
  steps: readonly ((document: Fields) => Fields)[];
}

/** A stored document that this version cannot read, in words. */
export class StoredError extends Error {
  override readonly name = 'StoredError';
}

/** The field that says how many steps a document has behind it; without it, none. */
const mark = 'shape';

/**
 * Brings a stored document forward to today's shape and checks it.
 *
 * @throws {@link StoredError} where it is of a later version, or not what it should be
 */
export function readStored<T>(kind: StoredShape<T>, stored: Stored<T>): T {
  const document = stored as unknown as Fields;
  const behind = Number(document[mark] ?? 0);
  if (behind > kind.steps.length)
    throw new StoredError(
      `A later version of Hand Stamp wrote ${kind.name}, and this version cannot read it.`,
    );
  const forward = kind.steps.slice(behind).reduce((before, step) => step(before), document);
  const told = kind.schema.safeParse(forward);
  if (told.success) return told.data;
  throw new StoredError(
    `The stored data of ${kind.name} cannot be read by this version of Hand Stamp (${told.error.issues[0]?.path.join('.')}).`,
    { cause: told.error },
  );
}

/** A document as it is stored: JSON, marked with the shape it has where that is not the first. */
export const writeStored = <T extends object>(kind: StoredShape<T>, document: T): string =>
  JSON.stringify(kind.steps.length > 0 ? { ...document, [mark]: kind.steps.length } : document);
