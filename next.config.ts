import type { NextConfig } from 'next';
import { headersOfAll } from './src/headers';

const config: NextConfig = {
  compiler: { styledComponents: true },
  serverExternalPackages: [
    'pg',
    'kysely',
    'graphile-worker',
    'fontkit',
    'subset-font',
    'zxing-wasm',
    '@e965/xlsx',
    'pino',
    'pdfjs-dist',
    '@napi-rs/canvas',
    'better-auth',
    '@better-auth/passkey',
    'prom-client',
    '@sealsystems/ipp',
  ],
  turbopack: {
    rules: {
      '**/react-*/dist/private/**/intlStrings.mjs': {
        loaders: ['./scripts/english-only.cjs'],
        as: '*.mjs',
      },
    },
  },
  poweredByHeader: false,
  devIndicators: false,
  headers: async () => [
    {
      source: '/:path*',
      headers: Object.entries(headersOfAll).map(([key, value]) => ({ key, value })),
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
