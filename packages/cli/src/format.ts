import { writeFileSync } from 'node:fs';
import { Command } from 'commander';
import { formatModel } from '@vole/core';
import { loadOrExplain, readText } from './usage.ts';

export function formatCommand(): Command {
  return new Command('format')
    .description('Puts a model in its usual layout, on standard output or in its file.')
    .argument('<model>', 'a .vole file')
    .option('--write', 'change the file')
    .action((path: string, options: { write?: boolean }) => {
      const loaded = loadOrExplain(path);
      if (!loaded) return;
      const formatted = formatModel(readText(path), loaded.checked.uses);
      if (options.write) writeFileSync(path, formatted);
      else process.stdout.write(formatted);
    });
}
