/**
 * The handlers of all routes, and which one answers a request. A route of the contract that no
 * module handles does not compile.
 */
import { randomUUID } from 'node:crypto';
import { addRoute, createRouter, findRoute } from 'rou3';
import { allRoutes, type Routes } from '../../contract';
import { accessHandlers } from '../access/handlers';
import { apiHandlers } from '../api/handlers';
import { checkpointsHandlers } from '../checkpoints/handlers';
import { deliveryHandlers } from '../delivery/handlers';
import { documentsHandlers } from '../documents/handlers';
import { guideHandlers } from '../guide/handlers';
import { jobsHandlers } from '../jobs/handlers';
import { linksHandlers } from '../links/handlers';
import { listsHandlers } from '../lists/handlers';
import { ordersHandlers } from '../orders/handlers';
import { pagesHandlers } from '../pages/handlers';
import { runsHandlers } from '../runs/handlers';
import { sourcesHandlers } from '../sources/handlers';
import { webhooksHandlers } from '../webhooks/handlers';
import { handle, refusalOf, type Handler, type Handlers } from '../access';

const handlers: Handlers = {
  ...accessHandlers,
  ...listsHandlers,
  ...guideHandlers,
  ...jobsHandlers,
  ...documentsHandlers,
  ...linksHandlers,
  ...pagesHandlers,
  ...checkpointsHandlers,
  ...deliveryHandlers,
  ...sourcesHandlers,
  ...runsHandlers,
  ...ordersHandlers,
  ...apiHandlers,
  ...webhooksHandlers,
};

type Answer = ReturnType<typeof handle>;

const router = createRouter<Answer>();
const byName = new Map<keyof Routes, Answer>();
for (const [name, route] of allRoutes) {
  // each is of its own route, which the type of the table has seen to
  const answer = handle(route, handlers[name] as Handler);
  byName.set(name, answer);
  addRoute(router, route.method, route.path.replace(/\{(\w+)\}/g, ':$1'), answer);
}

/** What answers one route, the gate included. */
export const answerOf = (name: keyof Routes): Answer => byName.get(name)!;

/**
 * Answers a request of any route of the contract.
 *
 * @returns 404 if there is no such path, 405 with `Allow` if it has no such method (RFC 9110, 15.5)
 */
export async function answer(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url);
  const method = request.method === 'HEAD' ? 'GET' : request.method;
  const headers = new Headers({ 'x-request-id': randomUUID(), 'cache-control': 'no-store' });
  const match = findRoute(router, method, pathname);
  if (match) {
    const params = decoded(match.params);
    if (params) return match.data(request, { params: Promise.resolve(params) });
    return refusalOf(pathname, 400, unreadableWords, headers);
  }
  const allowed = methods.filter((other) => found(other, pathname));
  if (allowed.length === 0)
    return refusalOf(pathname, 404, 'There is nothing at this address.', headers);
  if (allowed.includes('GET')) allowed.push('HEAD');
  headers.set('allow', [...allowed, 'OPTIONS'].join(', '));
  if (method === 'OPTIONS') return new Response(null, { status: 204, headers });
  return refusalOf(pathname, 405, `This address does not take ${method}.`, headers);
}

/** What answers a method at a path, if anything does. */
export const found = (method: string, path: string): Answer | undefined =>
  findRoute(router, method, path)?.data;

const methods = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'];

const unreadableWords = 'This address cannot be read. Check how it is written.';

/** The open parts of a path, without their percent signs; undefined where those are malformed. */
function decoded(params: Record<string, string> = {}): Record<string, string> | undefined {
  try {
    return Object.fromEntries(
      Object.entries(params).map(([name, value]) => [name, decodeURIComponent(value)]),
    );
  } catch {
    return undefined;
  }
}
