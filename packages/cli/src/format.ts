import { Command } from 'commander';
import { formatModel } from '@vole/core';
import { replaceText } from './files.ts';
import { modelOrExplain } from './model-file.ts';

export function formatCommand(): Command {
  return new Command('format')
    .description('Puts a model in its usual layout, on standard output or in its file.')
    .argument('<model>', 'a .vole file')
    .option('--write', 'change the file')
    .addHelpText('after', '\nExamples:\n  vole format meadow-year.vole\n  vole format meadow-year.vole --write')
    .action(async (path: string, options: { write?: boolean }) => {
      const model = await modelOrExplain(path);
      if (!model) return;
      const formatted = formatModel(model.text, model.loaded.checked.uses);
      if (options.write) replaceText(path, formatted);
      else process.stdout.write(formatted);
    });
}
