import { defineConfig } from 'vitest/config';

const alias = { '@': new URL('./src', import.meta.url).pathname };

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['tests/core/**/*.test.ts'],
          setupFiles: ['tests/helpers/seed.ts'],
          testTimeout: 60_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'server',
          env: { HAND_STAMP_KEY: 'a key for the tests' },
          include: ['tests/server/**/*.test.ts'],
          setupFiles: ['tests/helpers/seed.ts'],
          testTimeout: 90_000,
          hookTimeout: 60_000,
          fileParallelism: false,
          // real processes and printers on a machine that others use, too; what passes only then is told
          retry: 1,
        },
      },
    ],
  },
});
