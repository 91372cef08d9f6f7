import { defineConfig } from '@playwright/test';
import { BROWSER_FLAGS, findBrowser } from './scripts/prepare.mjs';

export default defineConfig({
  testDir: 'e2e',
  testMatch: '*.test.ts',
  outputDir: '.cache/browser',
  fullyParallel: true,
  workers: 2,
  retries: 0,
  timeout: 120_000,
  expect: { timeout: 20_000 },
  reporter: [['list'], ['json', { outputFile: '.cache/browser.json' }]],
  use: {
    trace: 'retain-on-failure',
    launchOptions: { executablePath: findBrowser(), args: BROWSER_FLAGS },
  },
});
