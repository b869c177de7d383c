import { defineConfig } from 'vitest/config';

const alias = { '@': new URL('./src', import.meta.url).pathname };

/** Processes that are started, killed and waited for: these have the machine to themselves. */
const processes = ['installation', 'tasks/killed', 'start'].map(
  (name) => `tests/server/${name}.test.ts`,
);

/** Tests that ask the handlers: these hold one database, and one stream of news, for a process. */
const whole = [
  'api/api',
  'handlers',
  'links/doors',
  'overlap',
  'planted',
  'platform/routes',
  'registries',
  'rights',
].map((name) => `tests/server/${name}.test.ts`);

/** Tests with a database of their own for each file, and with real files and printers. */
const server = {
  env: { HAND_STAMP_KEY: 'a key for the tests' },
  setupFiles: ['tests/helpers/environment.ts', 'tests/helpers/seed.ts'],
  testTimeout: 90_000,
  hookTimeout: 60_000,
  // real processes and printers on a machine that others use, too
  retry: 1,
};

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['tests/core/**/*.test.ts'],
          // nothing in the core holds anything between two calls that another test could see
          isolate: false,
          maxWorkers: 2,
          setupFiles: ['tests/helpers/seed.ts'],
          testTimeout: 60_000,
        },
      },
      {
        resolve: { alias },
        oxc: { jsx: { runtime: 'automatic' } },
        test: {
          name: 'core ui',
          include: ['tests/ui/**/*.test.{ts,tsx}'],
          environment: 'jsdom',
          maxWorkers: 2,
          setupFiles: ['tests/helpers/jsdom.ts'],
          testTimeout: 60_000,
        },
      },
      {
        resolve: { alias },
        test: {
          ...server,
          name: 'server',
          include: ['tests/server/**/*.test.ts'],
          exclude: [...processes, ...whole],
          // to read the whole server anew for each file took a fifth of the time
          isolate: false,
          maxWorkers: 2,
          sequence: { groupOrder: 1 },
        },
      },
      {
        resolve: { alias },
        test: {
          ...server,
          name: 'server handlers',
          include: whole,
          maxWorkers: 2,
          sequence: { groupOrder: 1 },
        },
      },
      {
        resolve: { alias },
        test: {
          ...server,
          name: 'server processes',
          include: processes,
          fileParallelism: false,
          sequence: { groupOrder: 2 },
        },
      },
    ],
  },
});
