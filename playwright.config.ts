import { existsSync } from 'node:fs';
import { defineConfig } from '@playwright/test';

const BROWSERS = [
  process.env.CHROMIUM_PATH ?? '',
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
];

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
    launchOptions: {
      executablePath: BROWSERS.find((path) => path && existsSync(path)),
      args: [
        '--no-sandbox',
        '--use-gl=angle',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        '--disable-quic',
      ],
    },
  },
});
