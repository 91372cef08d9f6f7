// The built application, served and open in the browser of the tests, for scripts that look at or measure the page.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { BROWSER_FLAGS, ensureBrowser, findBrowser, root } from './prepare.mjs';
import './build.mjs';

ensureBrowser();
export const server = spawn(process.execPath, [join(root, 'packages/server/dist/server.mjs')], {
  env: { ...process.env, PORT: '0', CI: '1' },
  stdio: ['ignore', 'pipe', 'inherit'],
});
export const url = await new Promise((resolve) => {
  server.stdout.on('data', (data) => {
    const address = /http:\/\/localhost:\d+/.exec(String(data))?.[0];
    if (address) resolve(address);
  });
});
export const browser = await chromium.launch({
  executablePath: findBrowser(),
  args: BROWSER_FLAGS,
});
