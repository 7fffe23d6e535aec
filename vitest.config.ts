import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          // Pure functions: its files may share what they load.
          name: 'core',
          include: ['{core,words}/**/*.test.ts'],
          environment: 'node',
          isolate: false,
          testTimeout: 120_000,
          hookTimeout: 240_000,
          maxWorkers: 2,
        },
      },
      {
        test: {
          name: 'unit',
          globalSetup: ['server/trials.ts'],
          include: ['{server,cli,demo,scripts,web,bench}/**/*.test.ts'],
          environment: 'node',
          // What is met costs nothing; on a busy machine a set-up may take minutes.
          testTimeout: 120_000,
          hookTimeout: 240_000,
          maxWorkers: 2,
        },
      },
      {
        test: {
          name: 'browser',
          include: ['e2e/**/*.test.ts'],
          globalSetup: ['e2e/seeded.ts'],
          environment: 'node',
          testTimeout: 240_000,
          hookTimeout: 240_000,
          expect: { poll: { timeout: 60_000 } },
          fileParallelism: true,
          maxWorkers: 2,
        },
      },
    ],
  },
});
