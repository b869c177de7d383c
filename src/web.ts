/**
 * The web server: what is scanned is answered at once, everything else by the application. The
 * framework takes some two milliseconds for a request of any kind, a link one third of one; on the
 * day everybody scans, that is the difference between 500 a second and many times as many.
 */
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { Readable } from 'node:stream';
import next from 'next';
import { headersOfAll } from './headers';

const development = process.env.NODE_ENV === 'development';
const port = Number(process.env.PORT ?? 3000);
const hostname = '127.0.0.1';

/**
 * A code of a link is nine or thirteen signs, as they are or typed small; a plus behind it asks
 * where it leads.
 */
const sign = '[2-9B-HJ-NP-TV-Zb-hj-np-tv-z]';
const linkPath = new RegExp(`^/(?:l/([^/?]+)|(${sign}{9}(?:${sign}{4})?(?:\\+|%2B)?))(?:\\?|$)`);

const scansPath = /^\/api\/checkpoints\/(\d{1,9})\/scans(?:\?|$)/;

const server = createServer((request, response) => {
  const answer = answerAhead(request);
  if (answer === undefined) return void toApplication(request, response);
  answer.then((done) => give(done, request, response)).catch(() => response.destroy());
});
const application = next({ dev: development, hostname, port, httpServer: server });
const toApplication = (request: IncomingMessage, response: ServerResponse) =>
  ready.then((answer) => answer(request, response)).catch(() => response.destroy());
const ready = application.prepare().then(() => application.getRequestHandler());

/**
 * What answers ahead: loaded with the first that is asked of it, since most of the program comes
 * with it, and whoever starts this waits for its first page.
 */
let handlers: ReturnType<typeof load> | undefined;
const ahead = () =>
  (handlers ??= load().catch((error: unknown) => {
    console.error(error);
    process.exit(1);
  }));
async function load() {
  const [scans, links, { writeScans }, { database }] = await Promise.all([
    import('./app/api/checkpoints/[id]/scans/route'),
    import('./app/l/[code]/route'),
    import('./server/links'),
    import('./server/platform'),
  ]);
  const writeAll = () => writeScans(database());
  return { scanCodes: scans.POST, followLink: links.GET, writeAll };
}
/**
 * What is answered before the framework, by the very handlers of its routes; undefined for all
 * else.
 */
function answerAhead(request: IncomingMessage): Promise<Response> | undefined {
  const { method, url = '' } = request;
  if (method === 'GET' || method === 'HEAD') {
    const found = linkPath.exec(url);
    const code = found?.[1] ?? found?.[2];
    if (code === undefined) return undefined;
    const params = Promise.resolve({ code: decoded(code) });
    return ahead().then(({ followLink }) => followLink(asked(request), { params }));
  }
  const id = method === 'POST' ? scansPath.exec(url)?.[1] : undefined;
  return id === undefined
    ? undefined
    : ahead().then(({ scanCodes }) =>
        scanCodes(asked(request), { params: Promise.resolve({ id }) }),
      );
}

function decoded(code: string): string {
  try {
    return decodeURIComponent(code);
  } catch {
    return code;
  }
}

/**
 * A request as handlers take it, with the address from which it comes where no proxy says another.
 */
function asked(request: IncomingMessage): Request {
  const headers = new Headers({ 'x-forwarded-for': request.socket.remoteAddress ?? '' });
  for (const [name, value] of Object.entries(request.headers))
    if (value !== undefined) headers.set(name, Array.isArray(value) ? value.join(', ') : value);
  return new Request(`http://${hostname}:${port}${request.url}`, {
    method: request.method,
    headers,
    ...(request.method === 'POST'
      ? { body: Readable.toWeb(request) as ReadableStream<Uint8Array>, duplex: 'half' }
      : {}),
  } as RequestInit);
}

async function give(
  answer: Response,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  for (const [name, value] of Object.entries(headersOfAll)) response.setHeader(name, value);
  response.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
  for (const [name, value] of answer.headers) response.setHeader(name, value);
  response.statusCode = answer.status;
  response.end(request.method === 'HEAD' ? undefined : Buffer.from(await answer.arrayBuffer()));
}

server.listen(port, hostname);
server.on('error', (error) => {
  console.error(error);
  process.exit(1);
});

let stopping = false;
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => {
    if (stopping) return;
    stopping = true;
    // who waits for news waits for ever
    setTimeout(() => server.closeAllConnections(), 1000).unref();
    server.close(() => {
      // scans that were counted are written before it goes
      void Promise.allSettled([
        handlers?.then(({ writeAll }) => writeAll()),
        application.close(),
      ]).then(() => process.exit(0));
    });
  });
