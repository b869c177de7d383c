import type { z } from 'zod';
import type { KeyRight } from '../core/access/keys';
import type { Right } from '../core/access/rights';
import { pathTo } from './path-to';

/**
 * Most bytes of JSON that a route takes: a few words, a document with pictures in its looks,
 * records or their numbers, a folder of 30,000 files with their paths.
 */
export const bodySizes = {
  words: 256 * 2 ** 10,
  document: 16 * 2 ** 20,
  records: 8 * 2 ** 20,
  folder: 32 * 2 ** 20,
} as const;

/** What is sent as bytes, its name in the header `x-file-name`, percent-encoded. */
export interface Upload {
  /** In bytes. */
  most: number;
}

/** What rights are asked of. All but a list belong to jobs, or to a list. */
export type Thing = 'job' | 'list' | 'run' | 'file' | 'intake' | 'document';

type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

interface RouteShape {
  method: Method;
  /** With `{name}` for each part that is left open. */
  path: `/${'api' | 'c' | 'f' | 'l' | 'r'}/${string}`;
  /** What it is for, in a line. */
  about: string;
  /**
   * What whoever asks may at least: anyone, without signing in; whoever is signed in; or a right.
   */
  right: 'anyone' | 'signed-in' | Right;
  /** What `{id}` is: where that is shared with whoever asks, the share counts as the right does. */
  of?: Thing;
  /**
   * A program may use it with this word of the configuration (RFC 6750), besides whoever has the
   * right.
   */
  bearer?: 'HAND_STAMP_METRICS_KEY';
  /** For programs, which bring a key that may this (RFC 6750); nobody comes in by a session. */
  key?: KeyRight;
  /**
   * A device that joined a checkpoint may use it too, for the one whose `{id}` it is; it says
   * `as=device`.
   */
  device?: true;
  /**
   * A program may say by which name it asks again, and then gets the answer of before
   * (`Idempotency-Key`).
   */
  repeats?: true;
  /** It is no GET and changes nothing all the same, so the journal need not tell of it. */
  asks?: true;
  /**
   * What it does stands on a tape of its own, with who and when, so the journal need not tell of
   * it.
   */
  tape?: true;
  /** What stands in the open parts of the path. */
  params?: z.ZodType;
  query?: z.ZodType;
  /** JSON that is sent. */
  body?: z.ZodType;
  size?: keyof typeof bodySizes;
  upload?: Upload;
  /** Schema of the JSON that is answered; or the types of the files that are. */
  answer: z.ZodType | { files: readonly string[] };
  /** Meant for pages and programs of others. */
  strangers?: boolean;
  /** Counted among what is being answered; not so where it must answer however much that is. */
  waits?: boolean;
  /** Its answer goes on for as long as a window is open. */
  news?: true;
}

/** A route as it is declared. */
export type Route = Readonly<RouteShape>;

export const defineRoute = <const R extends RouteShape>(route: R): R => route;

type Given<S> = S extends z.ZodType ? z.input<S> : undefined;
type Taken<S> = S extends z.ZodType ? z.output<S> : undefined;
type Of<R, K extends string> = R extends { [key in K]: infer S } ? S : undefined;

/** What a handler is given. */
export interface TakenInput<R> {
  params: Taken<Of<R, 'params'>>;
  query: Taken<Of<R, 'query'>>;
  /** Undefined where bytes were sent in place of JSON. */
  body: R extends { upload: Upload } ? Taken<Of<R, 'body'>> | undefined : Taken<Of<R, 'body'>>;
}
type Field<R, K extends 'params' | 'query' | 'body'> =
  Of<R, K> extends z.ZodType
    ? undefined extends Given<Of<R, K>>
      ? { [key in K]?: Given<Of<R, K>> }
      : object extends Given<Of<R, K>>
        ? { [key in K]?: Given<Of<R, K>> }
        : { [key in K]: Given<Of<R, K>> }
    : unknown;
/** What a client gives. */
export type GivenInput<R> = Field<R, 'params'> & Field<R, 'query'> & Field<R, 'body'>;

/** What is answered, as JSON. */
export type AnswerOf<R> = Of<R, 'answer'> extends z.ZodType ? z.output<Of<R, 'answer'>> : Response;

/** The path of a route with what stands in its open parts, and its query. */
export const addressOf = (route: Route, input: { params?: object; query?: object } = {}): string =>
  pathTo(route.path, input);
