// Tries many made-up inputs: `npm run fuzz`, or with a first seed and a number of inputs of each kind.
import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { rolldown } from 'rolldown';
import { ensureInstalled, root } from './prepare.mjs';

ensureInstalled();
// Beside the tests, as these find the examples from where they are.
const file = join(root, `packages/core/test/.fuzz-${process.pid}.mjs`);
try {
  const bundle = await rolldown({ input: 'packages/core/test/fuzz-on.ts', platform: 'node' });
  await bundle.write({ file, format: 'esm' });
  process.exitCode = spawnSync(process.execPath, [file, ...process.argv.slice(2)], { stdio: 'inherit' }).status ?? 1;
} finally {
  rmSync(file, { force: true });
}
