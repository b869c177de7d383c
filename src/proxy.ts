import { NextResponse, type NextRequest } from 'next/server';
import { originOf, whoAsks } from './server/access';
import { database, isAway, isKnownHost } from './server/platform';

/** Pages for people who are not signed in: sign-in pages, and those of devices at checkpoints. */
const open = /^\/(sign-in|welcome|forgotten|k)(\/|$)/;

/**
 * Pages run only our own scripts (CSP Level 3, a nonce for each answer) and cannot be framed.
 * People who are not signed in are sent to the sign-in page. Routes are checked by
 * `server/access/gate.ts`.
 */
export async function proxy(request: NextRequest): Promise<NextResponse> {
  if (!(await isKnown(request.headers.get('host') ?? '')))
    return new NextResponse(
      'Hand Stamp does not know this host name. An administrator can add it to HAND_STAMP_HOSTS.',
      { status: 421 },
    );
  const { pathname, search } = request.nextUrl;
  if (!open.test(pathname) && !(await isSignedIn(request))) {
    const to = pathname === '/' ? '' : `?to=${encodeURIComponent(pathname + search)}`;
    return NextResponse.redirect(new URL(`/sign-in${to}`, originOf(request)));
  }
  const nonce = Buffer.from(crypto.getRandomValues(new Uint8Array(16))).toString('base64');
  const development = process.env.NODE_ENV === 'development';
  const policy = [
    `default-src 'self'`,
    // the reader is WebAssembly; Chromium's workers begin as a blob
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'${development ? " 'unsafe-eval'" : ''}`,
    `worker-src 'self' blob:`,
    // measures on a piece are style attributes; style elements need the nonce
    `style-src 'self' 'nonce-${nonce}'`,
    `style-src-attr 'unsafe-inline'`,
    `img-src 'self' blob: data:`,
    `font-src 'self' data:`,
    `connect-src 'self' blob: data:${development ? ' ws:' : ''}`,
    `object-src 'none'`,
    `base-uri 'none'`,
    `form-action 'self'`,
    `frame-src 'self' blob:`,
    `frame-ancestors 'none'`,
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  response.headers.set('x-content-type-options', 'nosniff');
  // a secret link must not be in the referrer
  response.headers.set('referrer-policy', 'same-origin');
  return response;
}

/** While the database is away, only names that need no database are known. */
async function isKnown(host: string): Promise<boolean> {
  try {
    return await isKnownHost(database(), host);
  } catch (error) {
    if (isAway(error)) return false;
    throw error;
  }
}

/** While the database is away nobody can be known: the page is shown without data, and waits. */
async function isSignedIn(request: NextRequest): Promise<boolean> {
  try {
    return (await whoAsks(database(), request.headers)) !== undefined;
  } catch (error) {
    if (isAway(error)) return true;
    throw error;
  }
}

/** Everything except routes, files and public pages. Links do not get here (`web.ts`). */
export const config = { matcher: ['/((?!api/|c/|f/|r/|l/|_next/|icon|device\\.).*)'] };
