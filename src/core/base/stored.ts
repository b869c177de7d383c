import type * as z from 'zod';

declare const shape: unique symbol;
/**
 * A document as it is in the database, in the shape of the version that wrote it. Only {@link
 * readStored} makes a `T` of it.
 */
export interface Stored<T> {
  readonly [shape]: T;
}

type Fields = Record<string, unknown>;

/** How documents of one kind are kept over the years. */
export interface StoredShape<T> {
  /** Its name in the error if it cannot be read, as in “the job”. */
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

/** The field with the number of upgrade steps that a document has had; without it, none. */
const mark = 'shape';

/**
 * Upgrades a stored document to the current shape and checks it.
 *
 * @throws {@link StoredError} if it is of a later version, or invalid
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

/**
 * A document in its stored form: JSON, marked with the version of its shape if that is not the
 * first.
 */
export const writeStored = <T extends object>(kind: StoredShape<T>, document: T): string =>
  JSON.stringify(kind.steps.length > 0 ? { ...document, [mark]: kind.steps.length } : document);
