import type * as contract from './index';
import { pathTo } from './path-to';
import { paths } from './paths';
import type { AnswerOf, GivenInput } from './route';

/** A route that a browser asks, by its name in the contract. */
export type RouteName = keyof typeof paths;
type RouteOf<N extends RouteName> = (typeof contract)[N];
type UploadName = {
  [N in RouteName]: RouteOf<N> extends { upload: object } ? N : never;
}[RouteName];

/** Asks the server; an error carries the server's own words. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly status: number,
    /** What came with it, such as both values of a cell that was changed twice. */
    readonly details: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
  }
}

/** Reported to the window when its session has ended. */
export const signedOutEvent = 'hand-stamp:signed-out';

interface AskOptions {
  signal?: AbortSignal;
  /** A device that joined a checkpoint asks, even if a person is signed in in the same browser. */
  device?: boolean;
}
type Input<R> =
  object extends GivenInput<R>
    ? [input?: GivenInput<R>, options?: AskOptions]
    : [input: GivenInput<R>, options?: AskOptions];

/** The address of a route with its parameters and its query. Undefined ones are left out. */
export const addressTo = <const N extends RouteName>(
  name: N,
  input: { params?: object; query?: object } = {},
): string => pathTo(paths[name][1], input);

/**
 * Asks a route of the contract. It is named, so that no schema comes into the browser with it.
 *
 * @throws ApiError
 */
export async function ask<const N extends RouteName>(
  name: N,
  ...[input, options = {}]: Input<RouteOf<N>>
): Promise<AnswerOf<RouteOf<N>>> {
  const given = (input ?? {}) as { params?: object; query?: object; body?: unknown };
  const text = given.body === undefined ? undefined : JSON.stringify(given.body);
  const query = options.device ? { ...given.query, as: 'device' } : given.query;
  return answered(name, addressTo(name, { ...given, query }), {
    headers: text === undefined ? undefined : { 'content-type': 'application/json' },
    body: text,
    // a change reaches the server also when the page is left in the same moment; browsers take up
    // to 64 KB so
    keepalive: text !== undefined && text.length < 20_000,
    signal: options.signal,
  });
}

/** Sends the bytes of a file to a route of the contract. @throws ApiError */
export function send<const N extends UploadName>(
  name: N,
  bytes: Blob,
  fileName: string,
  input: { params?: object; query?: object; headers?: Record<string, string> } = {},
): Promise<AnswerOf<RouteOf<N>>> {
  return answered(name, addressTo(name, input), {
    headers: {
      'x-file-name': encodeURIComponent(fileName),
      'content-type': 'application/octet-stream',
      ...input.headers,
    },
    body: bytes,
  });
}

async function answered<const N extends RouteName>(
  name: N,
  address: string,
  request: RequestInit,
): Promise<AnswerOf<RouteOf<N>>> {
  const [method, , anyone] = paths[name] as readonly [string, string, 'anyone'?];
  let response: Response;
  try {
    response = await fetch(address, { method, ...request });
  } catch (error) {
    if (error instanceof DOMException) throw error;
    throw new ApiError(
      'Hand Stamp does not answer. Check that it is still running. Nothing you see is lost.',
      0,
    );
  }
  const data: unknown = await response.json().catch(() => ({}));
  if (response.status === 401 && !anyone && typeof window !== 'undefined')
    window.dispatchEvent(new Event(signedOutEvent));
  if (!response.ok)
    throw new ApiError(
      data && typeof data === 'object' && 'error' in data
        ? wordsOf(data)
        : 'Something went wrong. Try again.',
      response.status,
      data && typeof data === 'object' ? (data as Record<string, unknown>) : {},
    );
  return data as AnswerOf<RouteOf<N>>;
}

/** The problem, and the number under which an administrator finds it in the log. */
const wordsOf = (data: { error?: unknown; request?: unknown }): string =>
  typeof data.request === 'string'
    ? `${String(data.error)} (number ${data.request})`
    : String(data.error);
