import type { NextConfig } from 'next';

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
