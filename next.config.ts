import type { NextConfig } from 'next';

const config: NextConfig = {
  compiler: { styledComponents: true },
  serverExternalPackages: ['pg', 'graphile-worker', 'fontkit', 'zxing-wasm', '@e965/xlsx', 'pino'],
  poweredByHeader: false,
  devIndicators: false,
};
export default config;
