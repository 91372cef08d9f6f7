// The whole test run: install, types, lint, unit tests, browser tests; `unit` or `browser` runs those alone. Ends with a line `N passed, N failed`.
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBrowser, ensureInstalled, ensureOffice, root, run } from './prepare.mjs';
import { typecheck } from './typecheck.mjs';

const only = process.argv[2];
if (only !== undefined && only !== 'unit' && only !== 'browser') {
  console.error('Usage: npm test, or npm test -- unit, or npm test -- browser');
  process.exit(2);
}

ensureInstalled();
if (only !== 'unit') {
  ensureBrowser();
  ensureOffice();
}
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

/** Counts what a test program reports. @param read from its report: how many passed and failed */
function tests(report, command, read) {
  rmSync(report, { force: true });
  const status = run('npx', command);
  try {
    const found = read(JSON.parse(readFileSync(report, 'utf8')));
    passed += found.passed;
    failed += found.failed;
    // A run that went wrong without a failed test, or tested nothing, is a failure too.
    if ((status !== 0 && found.failed === 0) || found.passed + found.failed === 0) failed++;
  } catch {
    failed++;
  }
}

function unitTests() {
  const report = join(folder, 'unit.json');
  const command = ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  tests(report, command, ({ numPassedTests, numFailedTests }) => ({ passed: numPassedTests, failed: numFailedTests }));
}

function browserTests() {
  const report = join(folder, 'browser.json');
  tests(report, ['playwright', 'test'], ({ stats }) => ({
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky,
  }));
}

if (only === undefined) {
  step('types (tsc)', typecheck());
  step('lint (eslint)', run('npx', ['eslint', '.', '--max-warnings', '0']));
  step('layout (prettier)', run('npx', ['prettier', '--check', '.', '--log-level', 'warn']));
  step('nothing unused (knip)', run('npx', ['knip', '--no-config-hints']));
}
if (only !== 'browser') unitTests();
if (only !== 'unit') browserTests();
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
