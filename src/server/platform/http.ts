import type { z } from 'zod';
import { bodySizes, type Route, type TakenInput } from '../../contract';
import { unknownField } from '../../core/base/unknown-fields';
import { isKeepable } from '../../core/records/keepable';
import { bytesOf } from './bodies';
import { Refusal } from './refusal';

/** The path parameters of a request, parsed by the route's schema. @throws Refusal */
export function paramsOf<R extends Route>(
  route: R,
  params: Record<string, string>,
): TakenInput<R>['params'] {
  const place = route.params?.safeParse(params);
  if (place && !place.success)
    throw new Refusal('This no longer exists. It may have been deleted.', 404);
  return place?.data as TakenInput<R>['params'];
}

/** The query and the body of a request. @throws Refusal, ZodError */
export async function askedOf<R extends Route>(
  route: R,
  request: Request,
): Promise<Pick<TakenInput<R>, 'query' | 'body'>> {
  const { pathname, search, searchParams } = new URL(request.url);
  if ((pathname + search).includes('%00')) throw new Refusal(unkeepableWords);
  const query = route.query?.parse(Object.fromEntries(searchParams));
  // bytes that are sent are read by the handler, which knows what to say of them
  const sent = route.body && !(route.upload && !isJson(request));
  const body = sent ? await bodyOf(request, route.body!, route.size) : undefined;
  return { query, body } as Pick<TakenInput<R>, 'query' | 'body'>;
}

const deepest = 40;

/** Whether JSON is nested deeper than any of our documents; checked before it is parsed. */
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
  'The text contains a character that cannot be stored. Delete it and try again. Nothing was changed.';

/**
 * The file name in the header `x-file-name`, percent-encoded. @throws Refusal if it is malformed
 */
export function fileNameOf(request: Request, otherwise: string): string {
  try {
    const name = decodeURIComponent(request.headers.get('x-file-name') ?? otherwise).replaceAll(
      '\0',
      '',
    );
    // by characters, so that none is halved
    return [...name].slice(0, 200).join('');
  } catch {
    throw new Refusal('The name of the file could not be read. Rename the file and try again.');
  }
}

/**
 * The password of a file from the header `x-password`, percent-encoded, since addresses are written
 * down and headers are not.
 */
export function passwordOf(request: Request): string | undefined {
  const given = request.headers.get('x-password');
  if (given === null) return undefined;
  try {
    return decodeURIComponent(given).slice(0, 500);
  } catch {
    throw new Refusal('The password could not be read. Type it again.');
  }
}

/**
 * A page from outside in a frame of ours: it runs no scripts, loads nothing and knows nothing of
 * our page.
 */
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

/** Bytes as the body of an answer while they are made. If the reader stops, the making stops. */
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
    throw new Refusal('Send this as JSON (content-type: application/json).', 415);
  const text = (
    await bytesOf(
      request,
      bodySizes[size],
      () => new Refusal('This is too much at once. Send it in parts.', 413),
    )
  ).toString();
  if (isDeep(text)) throw new Refusal('The request is nested too deeply. Nothing was changed.');
  let json: unknown;
  try {
    json = JSON.parse(text, (key, value: unknown) => {
      for (const part of [key, value])
        if (typeof part === 'string' && !isKeepable(part)) throw new Unkeepable();
      return value;
    });
  } catch (error) {
    throw new Refusal(
      error instanceof Unkeepable
        ? unkeepableWords
        : 'The request is not valid JSON. Nothing was changed.',
    );
  }
  const value: unknown = schema.parse(json);
  const unknown = unknownField(schema, json);
  if (unknown !== undefined)
    throw new Refusal(
      `There is no field “${unknown.slice(0, 100)}” here, so nothing was done. Check the spelling.`,
    );
  return value;
}
