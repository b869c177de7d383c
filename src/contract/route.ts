import type { z } from 'zod';
import type { KeyRight } from '../core/access/keys';
import type { Right } from '../core/access/rights';
import { pathTo } from './path-to';

/**
 * The most bytes of JSON that a route accepts: a few words, a document with pictures in its looks,
 * records or their numbers, a folder of 30,000 files with their paths.
 */
export const bodySizes = {
  words: 256 * 2 ** 10,
  document: 16 * 2 ** 20,
  records: 8 * 2 ** 20,
  folder: 32 * 2 ** 20,
} as const;

/** Sent as bytes, its name in the header `x-file-name`, percent-encoded. */
export interface Upload {
  /** In bytes. */
  most: number;
}

/** Kinds of things that have rights. All except a list belong to jobs, or to a list. */
export type Thing = 'job' | 'list' | 'run' | 'file' | 'intake' | 'document';

type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

interface RouteShape {
  method: Method;
  /** With `{name}` for each parameter. */
  path: `/${'api' | 'c' | 'f' | 'l' | 'r'}/${string}`;
  /** What it does, in a line. */
  about: string;
  /** The least right that a request needs: anyone, without signing in; signed in; or a role. */
  right: 'anyone' | 'signed-in' | Right;
  /**
   * The kind of thing that `{id}` is: if it is shared with the person who asks, the share counts
   * like the role.
   */
  of?: Thing;
  /**
   * A program may use it with this secret of the configuration (RFC 6750), beside people with the
   * right.
   */
  bearer?: 'HAND_STAMP_METRICS_KEY';
  /** For programs, which send a key with this right (RFC 6750); a session does not count. */
  key?: KeyRight;
  /**
   * A device that joined a checkpoint may use it too, for the one whose `{id}` it is; it says
   * `as=device`.
   */
  device?: true;
  /**
   * A program may name a request, and gets the first answer again if it repeats it
   * (`Idempotency-Key`).
   */
  repeats?: true;
  /** It is not a GET and yet changes nothing, so the journal does not record it. */
  asks?: true;
  /**
   * Its actions are on a tape of their own, with person and time, so the journal does not record
   * them.
   */
  tape?: true;
  /** The schema of the path parameters. */
  params?: z.ZodType;
  query?: z.ZodType;
  /** JSON that is sent. */
  body?: z.ZodType;
  size?: keyof typeof bodySizes;
  upload?: Upload;
  /** Schema of the JSON that is answered; or the types of the files that are. */
  answer: z.ZodType | { files: readonly string[] };
  /** For pages and programs outside. */
  strangers?: boolean;
  /** Counted among the requests in progress; not so if it must answer under any load. */
  waits?: boolean;
  /** Its answer lasts as long as a window is open. */
  news?: true;
}

/** A route as it is declared. */
export type Route = Readonly<RouteShape>;

export const defineRoute = <const R extends RouteShape>(route: R): R => route;

type Given<S> = S extends z.ZodType ? z.input<S> : undefined;
type Taken<S> = S extends z.ZodType ? z.output<S> : undefined;
type Of<R, K extends string> = R extends { [key in K]: infer S } ? S : undefined;

/** The input of a handler. */
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

/** The JSON of the answer. */
export type AnswerOf<R> = Of<R, 'answer'> extends z.ZodType ? z.output<Of<R, 'answer'>> : Response;

/** The path of a route with its parameters, and its query. */
export const addressOf = (route: Route, input: { params?: object; query?: object } = {}): string =>
  pathTo(route.path, input);
