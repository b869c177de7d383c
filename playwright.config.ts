import { defineConfig } from '@playwright/test';

// `npm test` starts an application for each of Playwright's workers and gives their addresses;
// without it there is one
const urls = (process.env.HAND_STAMP_URLS ?? process.env.HAND_STAMP_URL ?? '').split(',');
/** The one that the tests of this worker have to themselves. */
const url = urls[Number(process.env.TEST_PARALLEL_INDEX ?? 0)];
process.env.HAND_STAMP_URL = url;

export default defineConfig({
  testDir: 'tests/browser',
  testMatch: '*.spec.ts',
  workers: urls.length,
  timeout: 90_000,
  // what passes only the second time is named at the end of npm test: it is a fault to be fixed,
  // in the test or in what it tests
  retries: 1,
  // a busy machine is slow, not wrong
  expect: { timeout: 15_000 },
  use: {
    baseURL: url,
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
