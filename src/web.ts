/**
 * The web server: what is scanned is answered at once, scripts and styles as they were compressed
 * when they were built (decision 79), everything else by the application. The
 * framework takes some two milliseconds for a request of any kind, a link one third of one; on the
 * day everybody scans, that is the difference between 500 a second and many times as many.
 */
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import next from 'next';
import send from 'send';
import { headersOfAll } from './headers';

const development = process.env.NODE_ENV === 'development';
const port = Number(process.env.PORT ?? 3000);
const hostname = '127.0.0.1';

/**
 * A code of a link has nine or thirteen characters, in capitals or small letters. With `/preview`
 * after it, the page shows where it leads.
 */
const sign = '[2-9B-HJ-NP-TV-Zb-hj-np-tv-z]';
const linkPath = new RegExp(`^/(?:l/([^/?]+)|(${sign}{9}(?:${sign}{4})?))(/preview)?(?:\\?|$)`);

const scansPath = /^\/api\/checkpoints\/(\d{1,9})\/scans(?:\?|$)/;

/** Methods that any route takes. */
const methods = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'];
const secureFor = 365 * 24 * 3600;

const server = createServer((request, response) => {
  if (isSecure(request))
    // of this name alone: other host names of the organisation may not use https
    response.setHeader('Strict-Transport-Security', `max-age=${secureFor}`);
  if (!methods.includes(request.method ?? ''))
    return refuse(response, 405, 'This cannot be done here.', { Allow: methods.join(', ') });
  const answer = answerAhead(request);
  if (answer === undefined && !isReadable(request.url ?? ''))
    return refuse(response, 400, 'This address cannot be read. Check how it is written.');
  if (answer === undefined)
    return void (sendBuilt(request, response) ?? toApplication(request, response));
  answer.then((done) => give(done, request, response)).catch(() => response.destroy());
});
/** Whether it is reached by https, by its own name or through a proxy (RFC 6797). */
function isSecure({ headers }: IncomingMessage): boolean {
  const through = String(headers['x-forwarded-proto'] ?? '')
    .split(',')[0]!
    .trim();
  return through === 'https' || (process.env.HAND_STAMP_URL ?? '').startsWith('https:');
}

function isReadable(url: string): boolean {
  try {
    decodeURIComponent(url.split('?')[0]!);
    return true;
  } catch {
    return false;
  }
}

function refuse(
  response: ServerResponse,
  status: number,
  words: string,
  headers: Record<string, string> = {},
): void {
  setHeaders(response);
  response.writeHead(status, { 'Content-Type': 'text/plain; charset=utf-8', ...headers });
  response.end(words);
}

const application = next({ dev: development, hostname, port, httpServer: server });
const toApplication = (request: IncomingMessage, response: ServerResponse) =>
  ready.then((answer) => answer(request, response)).catch(() => response.destroy());
const ready = application.prepare().then(() => application.getRequestHandler());

const builtPath = /^\/_next\/static\/([^?]+\.(js|css))(?:\?|$)/;
const builtFolder = join(process.cwd(), '.next/static');
const types = { js: 'text/javascript; charset=utf-8', css: 'text/css; charset=utf-8' };
/** The forms that `scripts/compress.mjs` lays down, the smaller first, by their content coding. */
const forms = [
  { coding: 'br', taken: /\bbr\b(?!\s*;\s*q=0(\.0*)?\s*(,|$))/, ending: '.br' },
  { coding: 'gzip', taken: /\bgzip\b(?!\s*;\s*q=0(\.0*)?\s*(,|$))/, ending: '.gz' },
] as const;
/**
 * Sends a script or a style as it was compressed when it was built; its name changes with what is
 * in it, so it holds for ever. What is not there is left to the application.
 *
 * @returns undefined where it is something else that is asked for
 */
function sendBuilt(request: IncomingMessage, response: ServerResponse): true | undefined {
  const [, path, kind] = builtPath.exec(request.url ?? '') ?? [];
  const form = forms.find((f) => f.taken.test(String(request.headers['accept-encoding'] ?? '')));
  if (development || !path || !form || !/^(GET|HEAD)$/.test(request.method ?? '')) return undefined;
  send(request, path + form.ending, {
    root: builtFolder,
    maxAge: '365 d',
    immutable: true,
    acceptRanges: false,
  })
    .on('headers', () => {
      setHeaders(response);
      response.setHeader('Content-Type', types[kind as keyof typeof types]);
      response.setHeader('Content-Encoding', form.coding);
      response.setHeader('Vary', 'Accept-Encoding');
    })
    .on('error', () =>
      response.headersSent ? response.destroy() : void toApplication(request, response),
    )
    .pipe(response);
  return true;
}

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
  const [contract, { handle }, checkpoints, links, { writeScans }, { database }] =
    await Promise.all([
      import('./contract'),
      import('./server/access'),
      import('./server/checkpoints/handlers'),
      import('./server/links/handlers'),
      import('./server/links'),
      import('./server/platform'),
    ]);
  return {
    scanCodes: handle(contract.scanCodes, checkpoints.checkpointsHandlers.scanCodes),
    followLink: handle(contract.followLink, links.linksHandlers.followLink),
    previewLink: handle(contract.previewLink, links.linksHandlers.previewLink),
    writeAll: () => writeScans(database()),
  };
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
    return ahead().then(({ followLink, previewLink }) =>
      (found?.[3] ? previewLink : followLink)(asked(request), { params }),
    );
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

function setHeaders(response: ServerResponse): void {
  for (const [name, value] of Object.entries(headersOfAll)) response.setHeader(name, value);
  response.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
}

async function give(
  answer: Response,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  setHeaders(response);
  for (const [name, value] of answer.headers) response.setHeader(name, value);
  response.statusCode = answer.status;
  response.end(request.method === 'HEAD' ? undefined : Buffer.from(await answer.arrayBuffer()));
}

const listen = () => void server.listen(port, hostname);
// started before the database: no answer until that is prepared
if (process.env.HAND_STAMP_WAITS)
  process.on('message', (message) => message === 'prepared' && listen());
else listen();
server.on('error', (error) => {
  console.error(error);
  process.exit(1);
});

let stopping = false;
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => {
    if (stopping) return;
    stopping = true;
    // a news stream never ends by itself
    setTimeout(() => server.closeAllConnections(), 1000).unref();
    server.close(() => {
      // writes the counted scans before the process ends
      void Promise.allSettled([
        handlers?.then(({ writeAll }) => writeAll()),
        application.close(),
      ]).then(() => process.exit(0));
    });
  });
