import { z } from 'zod';
import { NoResultError } from 'kysely';
import { bodySizes, type AnswerOf, type Route, type TakenInput } from '../../contract';
import { isKeepable } from '../../core/records/keepable';
import { database, isAway, type Database } from './db';
import { checkDoor } from './doors';
import { log } from './log';
import { IntakeError, Refusal, RunError } from './refusal';

/** What a handler is given: what was asked, as the contract takes it, and by whom. */
export interface Asked<R extends Route = Route> extends TakenInput<R> {
  request: Request;
  db: Database;
  /** Who asks. One person until sign-in is there; every change is recorded under this name. */
  actor: string;
}

/** Answered at a time, of our own people and of strangers; whoever comes beyond that is told at once to come again. */
const most = { own: 150, strangers: 250 };
const answering = { own: 0, strangers: 0 };

/**
 * The one place every route goes through: who asks, from where, whether what is asked and what is answered are as the contract says, and
 * how errors become words.
 * @param work gives what is answered as JSON, or an answer of its own where the contract says that files are given
 */
export function handle<const R extends Route>(
  route: R,
  work: (asked: Asked<R>) => Promise<AnswerOf<R>>,
) {
  const { strangers = false, waits = true } = route;
  const who = strangers ? 'strangers' : 'own';
  const handler = async (
    request: Request,
    context: { params: Promise<Record<string, string>> },
  ): Promise<Response> => {
    if (waits && answering[who] >= most[who])
      return Response.json(
        { error: busyWords },
        { status: strangers ? 429 : 503, headers: { 'retry-after': '2' } },
      );
    if (waits) answering[who]++;
    try {
      if (!strangers) checkDoor(request);
      const { pathname, search } = new URL(request.url);
      if ((pathname + search).includes('%00')) throw new Refusal(unkeepableWords);
      const input = await taken(route, request, await context.params);
      const result = await work({ ...input, request, db: database(), actor: 'coordinator' });
      if (result instanceof Response) return result;
      if (process.env.NODE_ENV !== 'production') checkAnswer(route, result);
      return Response.json(result);
    } catch (error) {
      const [status, message] = explain(error);
      if (status >= 500)
        log.error({ err: error, path: new URL(request.url).pathname }, 'request failed');
      return Response.json(
        { error: message, ...(error instanceof Refusal ? error.details : {}) },
        {
          status,
          ...(status === 503 || status === 429 ? { headers: { 'retry-after': '2' } } : {}),
        },
      );
    } finally {
      if (waits) answering[who]--;
    }
  };
  return Object.assign(handler, { route });
}

/** What is asked of a route, as its schemas take it. */
async function taken<R extends Route>(
  route: R,
  request: Request,
  params: Record<string, string>,
): Promise<TakenInput<R>> {
  const place = route.params?.safeParse(params);
  if (place && !place.success) throw new Refusal('That is not here.', 404);
  const query = route.query?.parse(Object.fromEntries(new URL(request.url).searchParams));
  // bytes that are sent are read by the handler, which knows what to say of them
  const sent = route.body && !(route.upload && !isJson(request));
  const body = sent ? await bodyOf(request, route.body!, route.size) : undefined;
  return { params: place?.data, query, body } as TakenInput<R>;
}

/** @throws Error where an answer is not as the contract says, or tells more; in development and in tests only */
function checkAnswer(route: Route, result: unknown): void {
  if ('files' in route.answer)
    throw new Error(`${route.path} gives files, and gave something else`);
  const told = route.answer.safeParse(JSON.parse(JSON.stringify(result)));
  if (!told.success)
    throw new Error(`${route.method} ${route.path} answers otherwise than the contract says`, {
      cause: told.error,
    });
}

const busyWords = 'Too much is being asked for at the moment. Try it again in a few seconds.';

function explain(error: unknown): [number, string] {
  if (error instanceof Refusal) return [error.status, error.message];
  if (error instanceof IntakeError || error instanceof RunError) return [400, error.message];
  if (error instanceof z.ZodError)
    return [400, error.issues[0]?.message ?? 'Something in the request is not right.'];
  if (error instanceof NoResultError)
    return [404, 'That is not here any more. It may have been removed.'];
  if (isAway(error))
    return [
      503,
      'The database is away for the moment and is coming back. Nothing was changed; try it again in a few seconds.',
    ];
  const data = dataWords(error);
  if (data) return data;
  return [500, 'Something went wrong on our side. Nothing was changed; try it again.'];
}

/** What PostgreSQL says of a request that asks for something it cannot hold or find: the request's fault, not ours. */
function dataWords(error: unknown): [number, string] | undefined {
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  if (code === '57014')
    return [
      503,
      'This took too long and was stopped. Nothing was changed. Ask for less of it, or try it again later.',
    ];
  // class 22: numbers out of range, text that is none of the type, NUL and half characters
  if (/^22/.test(code))
    return [
      400,
      'Something in the request is no value that can be kept here. Nothing was changed.',
    ];
  if (code === '23503')
    return [404, 'Something that this belongs to is not here any more. Nothing was changed.'];
  if (code === '23505') return [409, 'There is one of that name already. Choose another name.'];
  return undefined;
}

const deepest = 40;

/** Whether JSON is nested deeper than any document of ours, seen before it is taken apart. */
function isDeep(text: string): boolean {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (quoted) {
      if (c === '\\') i++;
      else if (c === '"') quoted = false;
    } else if (c === '"') quoted = true;
    else if (c === '{' || c === '[') {
      if (++depth > deepest) return true;
    } else if (c === '}' || c === ']') depth--;
  }
  return false;
}

class Unkeepable extends Error {}
const unkeepableWords =
  'There is a sign in it that is no text (a NUL or half a character). Take it out; nothing was changed.';

/** The bytes of a request, counted while they come. @throws what `tooMuch` gives, before more than `most` bytes are kept */
export async function bytesOf(
  request: Request,
  most: number,
  tooMuch: (bytes: number) => Error,
): Promise<Buffer> {
  const announced = Number(request.headers.get('content-length') ?? 0);
  if (announced > most) throw tooMuch(announced);
  const parts: Uint8Array[] = [];
  let bytes = 0;
  if (request.body)
    for await (const part of request.body as unknown as AsyncIterable<Uint8Array>) {
      bytes += part.length;
      if (bytes > most) throw tooMuch(bytes);
      parts.push(part);
    }
  return Buffer.concat(parts);
}

/** The name of a file from the header `x-file-name`, percent-encoded. @throws Refusal where it is not */
export function fileNameOf(request: Request, otherwise: string): string {
  try {
    const name = decodeURIComponent(request.headers.get('x-file-name') ?? otherwise).replaceAll(
      '\0',
      '',
    );
    // by characters, so that none is halved
    return [...name].slice(0, 200).join('');
  } catch {
    throw new Refusal('The name of the file could not be read.');
  }
}

/** The password of a file from the header `x-password`, percent-encoded, since addresses are written down and headers are not. */
export function passwordOf(request: Request): string | undefined {
  const given = request.headers.get('x-password');
  if (given === null) return undefined;
  try {
    return decodeURIComponent(given).slice(0, 500);
  } catch {
    throw new Refusal('The password could not be read.');
  }
}

/** A page of others: shown in a frame of ours, where it runs nothing, fetches nothing and knows nothing of the page around it. */
export const lockedPage = (html: string): Response =>
  new Response(html, {
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': [
        'sandbox',
        `default-src 'none'`,
        'img-src data:',
        `style-src 'unsafe-inline'`,
        `form-action 'none'`,
        `base-uri 'none'`,
        `frame-ancestors 'self'`,
      ].join('; '),
      'x-content-type-options': 'nosniff',
      'referrer-policy': 'no-referrer',
    },
  });

/** Bytes as they are made, as the body of an answer. Whoever stops reading stops the making. */
export function streamed(parts: AsyncGenerator<Uint8Array>): ReadableStream<Uint8Array> {
  return new ReadableStream({
    async pull(controller) {
      const { done, value } = await parts.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
    async cancel() {
      await parts.return(undefined);
    },
  });
}

const isJson = (request: Request): boolean =>
  /^application\/json\b/i.test(request.headers.get('content-type') ?? '');

async function bodyOf(
  request: Request,
  schema: z.ZodType,
  size: keyof typeof bodySizes = 'words',
): Promise<unknown> {
  if (!isJson(request))
    throw new Refusal('This is asked for in JSON (content-type: application/json).', 415);
  const text = (
    await bytesOf(
      request,
      bodySizes[size],
      () => new Refusal('That is more at once than can be taken here.', 413),
    )
  ).toString();
  if (isDeep(text)) throw new Refusal('The request could not be read: it is nested too deep.');
  let json: unknown;
  try {
    json = JSON.parse(text, (key, value: unknown) => {
      for (const part of [key, value])
        if (typeof part === 'string' && !isKeepable(part)) throw new Unkeepable();
      return value;
    });
  } catch (error) {
    throw new Refusal(
      error instanceof Unkeepable ? unkeepableWords : 'The request could not be read.',
    );
  }
  return schema.parse(json);
}
