// Proves the methods of Match at full size: `npm run prove`; takes some minutes and writes docs/calibration.md.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { rolldown } from 'rolldown';
import { ensureInstalled, root } from './prepare.mjs';

ensureInstalled();
const folder = mkdtempSync(join(tmpdir(), 'vole-prove-'));
try {
  const bundle = await rolldown({ input: join(root, 'packages/core/prove/main.ts'), platform: 'node' });
  const file = join(folder, 'prove.mjs');
  await bundle.write({ file, format: 'esm' });
  process.exitCode = spawnSync(process.execPath, [file], { cwd: root, stdio: 'inherit' }).status ?? 1;
} finally {
  rmSync(folder, { recursive: true, force: true });
}
