import { defineConfig } from 'vitest/config';

const OF_CORE = ['packages/core/src/**/*.test.ts', 'packages/core/test/**/*.test.ts', 'examples/**/*.test.ts'];

export default defineConfig({
  test: {
    testTimeout: 240_000,
    maxWorkers: 2,
    projects: [
      // Core keeps nothing between calls, so that its tests need not load it anew for each of their files.
      { extends: true, test: { name: 'core', include: OF_CORE, isolate: false } },
      {
        extends: true,
        test: {
          name: 'page and commands',
          include: ['packages/*/src/**/*.test.{ts,tsx}', 'packages/*/test/**/*.test.ts'],
          exclude: OF_CORE,
        },
      },
    ],
  },
});
