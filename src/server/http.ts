import { NextResponse } from 'next/server';
import { z } from 'zod';
import { NoResultError } from 'kysely';
import { database, type Database } from './db';
import { IntakeError } from './intake/book';
import { log } from './log';
import { Refusal } from './refusal';
import { RunError } from './runs';

/** Everything a route needs to know of a request. */
export interface Asked {
  request: Request;
  db: Database;
  /** Who asks. One person until sign-in is there; every change is recorded under this name. */
  actor: string;
  params: Record<string, string>;
  query: URLSearchParams;
}

export { Refusal };

/** The one place every route goes through: who asks, and how errors become words. */
export function route(work: (asked: Asked) => Promise<Response | object | undefined>) {
  return async (request: Request, context: { params: Promise<Record<string, string>> }): Promise<Response> => {
    try {
      const asked: Asked = {
        request,
        db: database(),
        actor: 'coordinator',
        params: await context.params,
        query: new URL(request.url).searchParams,
      };
      const result = await work(asked);
      return result instanceof Response ? result : NextResponse.json(result ?? {});
    } catch (error) {
      const [status, message] = explain(error);
      if (status >= 500) log.error({ err: error, path: new URL(request.url).pathname }, 'request failed');
      return NextResponse.json({ error: message, ...(error instanceof Refusal ? error.details : {}) }, { status });
    }
  };
}

function explain(error: unknown): [number, string] {
  if (error instanceof Refusal) return [error.status, error.message];
  if (error instanceof IntakeError || error instanceof RunError) return [400, error.message];
  if (error instanceof z.ZodError) return [400, error.issues[0]?.message ?? 'Something in the request is not right.'];
  if (error instanceof NoResultError) return [404, 'That is not here any more. It may have been removed.'];
  return [500, 'Something went wrong on our side. Nothing was changed; try it again.'];
}

export function numberParam(asked: Asked, name = 'id'): number {
  const value = Number(asked.params[name]);
  if (!Number.isInteger(value) || value < 1 || value > 2 ** 31 - 1) throw new Refusal('That is not here.', 404);
  return value;
}

export async function body<T>(asked: Asked, schema: z.ZodType<T>): Promise<T> {
  const json: unknown = await asked.request.json().catch(() => {
    throw new Refusal('The request could not be read.');
  });
  return schema.parse(json);
}
