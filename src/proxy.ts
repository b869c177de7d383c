import { NextResponse, type NextRequest } from 'next/server';
import { isOurHost } from './server/platform/doors';

/** Pages run our own scripts only (CSP Level 3, a nonce for each answer) and stand in no frame. Routes look after themselves: `server/http.ts`. */
export function proxy(request: NextRequest): NextResponse {
  if (!isOurHost(request.headers.get('host') ?? ''))
    return new NextResponse(
      'Hand Stamp is not reached by this name. Whoever set it up can add it to HAND_STAMP_HOSTS.',
      { status: 421 },
    );
  const nonce = Buffer.from(crypto.getRandomValues(new Uint8Array(16))).toString('base64');
  const development = process.env.NODE_ENV === 'development';
  const policy = [
    `default-src 'self'`,
    // the reader is WebAssembly; Chromium's workers begin as a blob
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'${development ? " 'unsafe-eval'" : ''}`,
    `worker-src 'self' blob:`,
    // measures on a piece are styles of elements
    `style-src 'self' 'unsafe-inline'`,
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
  return response;
}

export const config = { matcher: ['/((?!api/|c/|_next/|icon).*)'] };
