// The types of every part, each with what it may know: core without a page and without Node.
import { run } from './prepare.mjs';

const PARTS = [
  'packages/core/tsconfig.src.json',
  'packages/core',
  'packages/cli',
  'packages/server',
  'packages/web',
  'e2e',
];

/** Checks all parts. @returns 0 if all are right */
export function typecheck() {
  return Math.max(...PARTS.map((part) => run('npx', ['tsc', '-p', part])));
}

if (import.meta.filename === process.argv[1]) process.exitCode = typecheck();
