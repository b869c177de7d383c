import type * as z from 'zod';

/** What an address of ours leads to: a link for anyone or for one person, a page, a picture. */
export type AddressKind = 'anyone' | 'one' | 'page' | 'picture';

/** What a beginning needs besides the record: its place in the list, and chance. */
export interface BeginningContext {
  /** From 0. */
  position: number;
  /** A text of `length` characters that nobody can guess. */
  secret(length: number): string;
  /**
   * The address of a record's link, of its page, or of the picture of its code: with the code of
   * the one that it had, on the base of today; else a new one.
   * @param before what it was; blank where it is not known
   */
  address(kind: AddressKind, before: string): string;
}

type Values = Readonly<Record<string, string>>;

/** What is asked of a beginning in its small editor. */
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
  /** As it begins; where it is missing, it comes about in another place and is not offered. */
  start?(columns: readonly { id: string }[]): S;
  /**
   * In the sentence, after “it is”: what stands before that which can be pointed at.
   * @param stamps how many the list has
   */
  before?(source: S, stamps: number): string;
  /** What can be pointed at, where it is neither parts nor a stamp. */
  words?(source: S, nameOf: (column: string) => string): string;
  asks?: BeginningQuestion<S>;
  /** The value of a record, before any step. @param before what it was */
  work(source: S, values: Values, before: string, context: BeginningContext): string;
  /** Made once for each record and kept, and so no step-by-step work. */
  once?: true;
  /** It is an address of ours. */
  address?: true;
  /** It vouches for other values, and says nothing that could be weighed by itself. */
  vouches?: true;
  /** It is a number counted along the list. */
  counted?: true;
  /** Columns that it is made from. */
  madeFrom?(source: S): string[];
  /** Whether it must not lie open; where it is missing, as what it is made from. */
  secret?(source: S): boolean;
}

/**
 * A thing that a worked column can begin with.
 * @param definition with the schema of what is kept of it
 */
export const defineBeginning = <T extends z.ZodType<{ kind: string }>>(
  definition: BeginningDefinition<z.output<T>> & { schema: T },
): BeginningDefinition<z.output<T>> & { schema: T } => definition;

/** Any beginning, known by its kind alone. */
type Any = { kind: string };

/** Tells the columns that begin with one thing from others. */
export const beginsWith =
  (is: (source: Any) => boolean) =>
  (column: { worked?: { source: Any } }): boolean =>
    column.worked !== undefined && is(column.worked.source);
