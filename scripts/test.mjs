// The whole test run: install, types, lint, unit tests, browser tests. Ends with a line `N passed, N failed`.
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBrowser, ensureInstalled, root, run } from './prepare.mjs';
import { typecheck } from './typecheck.mjs';

ensureInstalled();
ensureBrowser();
await import('./build.mjs');

let passed = 0;
let failed = 0;

function step(name, status) {
  if (status === 0) passed++;
  else failed++;
  console.log(`${status === 0 ? 'ok' : 'FAILED'}: ${name}`);
}

const folder = join(root, '.cache');
mkdirSync(folder, { recursive: true });

function vitest(name, config) {
  const report = join(folder, `${name}.json`);
  rmSync(report, { force: true });
  const status = run('npx', [
    'vitest',
    'run',
    '--config',
    config,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
  ]);
  try {
    const { numPassedTests, numFailedTests, numTotalTests } = JSON.parse(readFileSync(report, 'utf8'));
    passed += numPassedTests;
    failed += numFailedTests;
    if (status !== 0 && numFailedTests === 0) failed++;
    if (numTotalTests === 0) failed++;
  } catch {
    failed++;
  }
}

step('types (tsc)', typecheck());
step('lint (eslint)', run('npx', ['eslint', '.', '--max-warnings', '0']));
step('layout (prettier)', run('npx', ['prettier', '--check', '.', '--log-level', 'warn']));
step('nothing unused (knip)', run('npx', ['knip', '--no-config-hints']));
vitest('unit', 'vitest.config.ts');
vitest('browser', 'vitest.browser.config.ts');
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
