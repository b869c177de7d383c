import type { NextConfig } from 'next';
import { headersOfAll } from './src/headers';

const config: NextConfig = {
  compiler: { styledComponents: true },
  // types are checked by `npm run check` and `npm test`; to do it here as well made whoever starts
  // it for the first time wait twice as long
  typescript: { ignoreBuildErrors: true },
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
  experimental: {
    // the server's code as it is written: made in two thirds of the time, and errors name its lines
    serverMinification: false,
    serverSourceMaps: false,
    // a page's program is read when it is first asked for: to read them all made the first one late
    preloadEntriesOnStart: false,
    // to keep what a build found out takes longer than what the next one gains by it
    turbopackFileSystemCacheForBuild: false,
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
