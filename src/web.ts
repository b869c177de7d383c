/**
 * The web server: what strangers scan is answered at once, everything else by the application. The framework takes some two milliseconds for
 * a request of any kind, a link one third of one; on the day everybody scans, that is the difference between 500 a second and many times as many.
 */
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import next from 'next';
import { GET as followLink } from './app/l/[code]/route';
import { headersOfAll } from './headers';
import { writeScans } from './server/links';
import { database } from './server/platform';

const development = process.env.NODE_ENV === 'development';
const port = Number(process.env.PORT ?? 3000);
const hostname = '127.0.0.1';

/** A code of a link is nine or thirteen signs, as they are or typed small; a plus behind it asks where it leads. */
const sign = '[2-9B-HJ-NP-TV-Zb-hj-np-tv-z]';
const linkPath = new RegExp(`^/(?:l/([^/?]+)|(${sign}{9}(?:${sign}{4})?(?:\\+|%2B)?))(?:\\?|$)`);

const server = createServer((request, response) => {
  const code = codeIn(request);
  if (code === undefined) return void toApplication(request, response);
  answerLink(request, response, code).catch(() => response.destroy());
});
const application = next({ dev: development, hostname, port, httpServer: server });
const toApplication = (request: IncomingMessage, response: ServerResponse) =>
  ready.then((answer) => answer(request, response)).catch(() => response.destroy());
const ready = application.prepare().then(() => application.getRequestHandler());

function codeIn({ method, url = '' }: IncomingMessage): string | undefined {
  if (method !== 'GET' && method !== 'HEAD') return undefined;
  const found = linkPath.exec(url);
  const code = found?.[1] ?? found?.[2];
  if (code === undefined) return undefined;
  try {
    return decodeURIComponent(code);
  } catch {
    return code;
  }
}

async function answerLink(
  request: IncomingMessage,
  response: ServerResponse,
  code: string,
): Promise<void> {
  const headers = new Headers({ 'x-forwarded-for': request.socket.remoteAddress ?? '' });
  for (const [name, value] of Object.entries(request.headers))
    if (value !== undefined) headers.set(name, Array.isArray(value) ? value.join(', ') : value);
  const answer = await followLink(
    new Request(`http://${hostname}:${port}/l/${encodeURIComponent(code)}`, {
      method: request.method,
      headers,
    }),
    { params: Promise.resolve({ code }) },
  );
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
      void Promise.allSettled([writeScans(database()), application.close()]).then(() =>
        process.exit(0),
      );
    });
  });
