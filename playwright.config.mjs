import { defineConfig } from '@playwright/test';
import { BROWSER_FLAGS, findBrowser } from './scripts/prepare.mjs';

export default defineConfig({
  testDir: 'e2e',
  testMatch: '*.test.ts',
  outputDir: '.cache/browser',
  fullyParallel: true,
  workers: 2,
  retries: 0,
  // Both end what hangs, and nothing else: a busy machine may take ten times as long for a test as a quiet one.
  timeout: 600_000,
  expect: { timeout: 120_000 },
  reporter: [['list'], ['json', { outputFile: '.cache/browser.json' }]],
  use: {
    // Of a failure: what was done with the page as it was, and a picture of its end. Pictures all the way take a sixth of the time of every test.
    trace: { mode: 'retain-on-failure', screenshots: false },
    screenshot: 'only-on-failure',
    launchOptions: { executablePath: findBrowser(), args: BROWSER_FLAGS },
  },
});
