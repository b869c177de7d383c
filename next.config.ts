import type { NextConfig } from 'next';

/** A sign that codes of links are made of, as it is or typed small. */
const code = '[2-9B-HJ-NP-TV-Zb-hj-np-tv-z]';

const config: NextConfig = {
  compiler: { styledComponents: true },
  serverExternalPackages: [
    'pg',
    'kysely',
    'graphile-worker',
    'fontkit',
    'zxing-wasm',
    '@e965/xlsx',
    'pino',
    'pdfjs-dist',
    '@napi-rs/canvas',
    'better-auth',
    '@better-auth/passkey',
    'prom-client',
  ],
  poweredByHeader: false,
  devIndicators: false,
  // a link has the shortest address there can be
  rewrites: async () => ({
    beforeFiles: [
      {
        source: `/:code(${code}{9}(?:${code}{4})?\\+?)`,
        destination: '/l/:code',
      },
    ],
    afterFiles: [],
    fallback: [],
  }),
  headers: async () => [
    {
      source: '/:path*',
      headers: [
        { key: 'X-Content-Type-Options', value: 'nosniff' },
        { key: 'X-Frame-Options', value: 'DENY' },
        { key: 'Referrer-Policy', value: 'same-origin' },
        { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
      ],
    },
    // pictures of codes are for the pages of others, nothing else is
    {
      source: '/((?!c/).*)',
      headers: [{ key: 'Cross-Origin-Resource-Policy', value: 'same-origin' }],
    },
    {
      source: '/c/:path*',
      headers: [{ key: 'Cross-Origin-Resource-Policy', value: 'cross-origin' }],
    },
  ],
};
export default config;
