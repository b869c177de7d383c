import { defineConfig } from '@playwright/test';

/** Run by `npm test`, which starts database, workers and server and gives their address. */
export default defineConfig({
  testDir: 'tests/browser',
  testMatch: '*.spec.ts',
  workers: 1,
  timeout: 90_000,
  // what passes only the second time is named at the end of npm test: it is a fault to be mended, in the test or in what it tests
  retries: 1,
  // a busy machine is slow, not wrong
  expect: { timeout: 15_000 },
  use: {
    baseURL: process.env.HAND_STAMP_URL,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
