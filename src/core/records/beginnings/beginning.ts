import type * as z from 'zod';

/** What one of our addresses leads to: a link for anyone or for one person, a page, a picture. */
export type AddressKind = 'anyone' | 'one' | 'page' | 'picture';

/** What a beginning needs beside the record: its position in the list, and random numbers. */
export interface BeginningContext {
  /** From 0. */
  position: number;
  /** A random text of `length` characters that nobody can guess. */
  secret(length: number): string;
  /**
   * The address of a record's link, of its page, or of the picture of its code: with the code it
   * had before, on the current base; else a new one.
   * @param before its earlier value; blank if unknown
   */
  address(kind: AddressKind, before: string): string;
}

type Values = Readonly<Record<string, string>>;

/** A question in the small editor of a beginning. */
export type BeginningQuestion<S> =
  /** Columns and fixed text, put together. */
  | { as: 'parts'; of: keyof S & string }
  | {
      as: 'numbers';
      of: readonly { of: keyof S & string; label: string; min: number; max: number }[];
    }
  | { as: 'columns'; of: keyof S & string; label: string }
  /** Of which stamp; not asked where there is one only. */
  | { as: 'stamp'; of: keyof S & string };

/** Everything about one thing that a worked column can begin with. */
export interface BeginningDefinition<S extends { kind: string }> {
  /** In the list of beginnings. */
  name: string;
  about: string;
  /** The initial value; undefined if it is created elsewhere and is not offered. */
  start?(columns: readonly { id: string }[]): S;
  /**
   * In the sentence, after “it is”: the words before the part that can be selected.
   * @param stamps how many the list has
   */
  before?(source: S, stamps: number): string;
  /** The selectable part, if it is neither a content nor a stamp. */
  words?(source: S, nameOf: (column: string) => string): string;
  asks?: BeginningQuestion<S>;
  /** The value of a record, before any step. @param before its earlier value */
  work(source: S, values: Values, before: string, context: BeginningContext): string;
  /** Made once for each record and kept, and so no step-by-step work. */
  once?: true;
  /** It is one of our addresses. */
  address?: true;
  /** It proves other values, and has no content that could be checked by itself. */
  vouches?: true;
  /** It is a number counted along the list. */
  counted?: true;
  /** Columns that it is made from. */
  madeFrom?(source: S): string[];
  /** Whether it is secret; if undefined, as what it is made from. */
  secret?(source: S): boolean;
}

/**
 * A beginning of a worked column.
 * @param definition with the schema of its stored data
 */
export const defineBeginning = <T extends z.ZodType<{ kind: string }>>(
  definition: BeginningDefinition<z.output<T>> & { schema: T },
): BeginningDefinition<z.output<T>> & { schema: T } => definition;

/** Any beginning, known by its kind alone. */
type Any = { kind: string };

/** Recognizes the columns that begin in one way. */
export const beginsWith =
  (is: (source: Any) => boolean) =>
  (column: { worked?: { source: Any } }): boolean =>
    column.worked !== undefined && is(column.worked.source);
