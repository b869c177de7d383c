import { vi } from 'vitest';
import * as contract from '../../src/contract';
import type { RouteName } from '../../src/contract/client';
import { paths } from '../../src/contract/paths';
import type { AnswerOf, Route } from '../../src/contract';

/** What a part of the interface asked for, in its order. */
export interface Asked {
  route: RouteName;
  /** The path parameters. */
  params: Record<string, string>;
  query: Record<string, string>;
  body: unknown;
}
type Answers = {
  [N in RouteName]?: (asked: Asked) => AnswerOf<(typeof contract)[N]> | Refused;
};

/** What the server says no with. */
export class Refused {
  constructor(
    readonly status: number,
    readonly error: string,
    readonly more: Record<string, unknown> = {},
  ) {}
}

const patterns = Object.entries(paths).map(([name, [method, path]]) => ({
  name: name as RouteName,
  method: method as string,
  names: [...path.matchAll(/\{(\w+)\}/g)].map(([, part]) => part!),
  pattern: new RegExp(`^${path.replace(/\{\w+\}/g, '([^/]+)')}$`),
}));

/**
 * Replaces the server in place of `fetch`. Requests and answers must match the contract, so that no
 * test uses an impossible answer.
 *
 * @returns the requests so far; the list keeps growing
 */
export function answering(answers: Answers): Asked[] {
  const asked: Asked[] = [];
  vi.stubGlobal('fetch', (address: string, request: RequestInit = {}) => {
    const url = new URL(address, 'http://localhost');
    const method = request.method ?? 'GET';
    const found = patterns
      .filter((p) => p.method === method)
      .map((p) => ({ ...p, match: p.pattern.exec(url.pathname) }))
      .filter((p) => p.match)
      .sort((a, b) => a.names.length - b.names.length)[0];
    if (!found) throw new Error(`there is no route ${method} ${url.pathname}`);
    const one: Asked = {
      route: found.name,
      params: Object.fromEntries(found.names.map((name, i) => [name, found.match![i + 1]!])),
      query: Object.fromEntries(url.searchParams),
      body: typeof request.body === 'string' ? (JSON.parse(request.body) as unknown) : request.body,
    };
    const route: Route = contract[found.name];
    route.params?.parse(one.params);
    asked.push(one);
    // refused before the handler, as by the gate
    const wrong = typeof request.body === 'string' && route.body?.safeParse(one.body).error;
    if (wrong)
      return Promise.resolve(Response.json({ error: wrong.issues[0]!.message }, { status: 400 }));
    const answer = (answers[found.name] as ((asked: Asked) => unknown) | undefined)?.(one);
    if (answer === undefined) throw new Error(`nothing stands ready for ${found.name}`);
    if (answer instanceof Refused)
      return Promise.resolve(
        Response.json({ error: answer.error, ...answer.more }, { status: answer.status }),
      );
    if ('parse' in route.answer) route.answer.parse(answer);
    return Promise.resolve(Response.json(answer));
  });
  return asked;
}
