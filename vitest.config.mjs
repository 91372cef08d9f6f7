import { defineConfig } from 'vitest/config';
import { ensureCore } from './scripts/prepare.mjs';

const OF_CORE = ['packages/core/src/**/*.test.ts', 'packages/core/test/**/*.test.ts', 'examples/**/*.test.ts'];
/** Parts of the page in whose tests nothing is kept between calls: no storage, store, worker or document. */
const WITHOUT_STATE = [
  'packages/web/src/{build,charts,files,manual,match,observed,records,ribbon,vary,watch,words}/**/*.test.ts',
];

const core = await ensureCore();
/** Names of core, the longest first, so that each is taken whole. */
const alias = Object.entries(core)
  .map(([find, replacement]) => ({ find, replacement }))
  .sort((a, b) => b.find.length - a.find.length);

export default defineConfig({
  test: {
    // These end what hangs, and nothing else: a busy machine may take ten times as long for a test as a quiet one.
    testTimeout: 600_000,
    hookTimeout: 600_000,
    expect: { poll: { timeout: 60_000 } },
    maxWorkers: 2,
    projects: [
      // What keeps nothing between calls need not be loaded anew for each file of its tests.
      { extends: true, test: { name: 'core', include: OF_CORE, isolate: false } },
      {
        extends: true,
        resolve: { alias },
        test: {
          name: 'parts of the page',
          include: WITHOUT_STATE,
          isolate: false,
          setupFiles: ['packages/web/test/set-up.ts'],
        },
      },
      {
        extends: true,
        resolve: { alias },
        test: {
          name: 'page and commands',
          setupFiles: ['packages/web/test/set-up.ts'],
          include: ['packages/*/src/**/*.test.{ts,tsx}', 'packages/*/test/**/*.test.ts'],
          exclude: [...OF_CORE, ...WITHOUT_STATE],
        },
      },
    ],
  },
});
