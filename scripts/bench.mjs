// Bundles the benchmarks and runs them; arguments choose workloads by their letters; `page` and `studies` measure in a browser too, `match` a search, `maps` maps, `fields` fields, `c` yardsticks in C, `threads` what helping threads gain.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { rolldown } from 'rolldown';
import { ensureCli, ensureInstalled, root } from './prepare.mjs';

ensureInstalled();
if (process.argv.includes('page')) {
  await import('./page-bench.mjs');
  process.exit();
}
if (process.argv.includes('match')) {
  await ensureCli();
  // Beside the command line, whose threads it uses.
  const file = join(root, 'packages/cli/dist/bench.mjs');
  try {
    const bundle = await rolldown({
      input: 'packages/cli/bench/match.ts',
      platform: 'node',
      external: ['piscina'],
      resolve: { alias: { '@vole/core': join(root, 'packages/core/src/index.ts') } },
    });
    await bundle.write({ file, format: 'esm' });
    process.exitCode = spawnSync(process.execPath, [file, ...process.argv.slice(2)], { stdio: 'inherit' }).status ?? 1;
  } finally {
    rmSync(file, { force: true });
  }
  process.exit();
}
const withStudies = process.argv.includes('studies');
const OWN = { studies: 'studies', maps: 'maps', fields: 'fields', c: 'against-c', threads: 'threads' };
const chosen = OWN[process.argv[2]] ?? 'main';
const folder = mkdtempSync(join(tmpdir(), 'vole-bench-'));
try {
  const bundle = await rolldown({
    input: {
      bench: `packages/core/bench/${chosen}.ts`,
      ...(chosen === 'threads' ? { helper: 'packages/cli/src/helper.ts' } : {}),
    },
    platform: 'node',
    resolve: { alias: { '@vole/core/helping': join(root, 'packages/core/src/javascript/helping.ts') } },
  });
  await bundle.write({ dir: folder, entryFileNames: '[name].mjs', chunkFileNames: '[name].mjs', format: 'esm' });
  process.exitCode =
    spawnSync(process.execPath, [join(folder, 'bench.mjs'), ...process.argv.slice(2)], { stdio: 'inherit' }).status ??
    1;
} finally {
  rmSync(folder, { recursive: true, force: true });
}
if (withStudies) await import('./studies-bench.mjs');
