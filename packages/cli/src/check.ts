import { Command } from 'commander';
import { placeOf } from '@vole/core';
import { counted } from './counted.ts';
import { diagnosticText } from './diagnostic-text.ts';
import { readModel, studyFindings } from './model-file.ts';

export function checkCommand(): Command {
  return new Command('check')
    .description('Says what is wrong or doubtful in a model; exit code 1 if there are errors.')
    .argument('<model>', 'a .vole file')
    .option('--json', 'findings as JSON on standard output')
    .addHelpText('after', '\nExamples:\n  vole check meadow-year.vole\n  vole check meadow-year.vole --json')
    .action(async (path: string, options: { json?: boolean }) => {
      const model = await readModel(path);
      const { text } = model;
      const diagnostics = [...model.diagnostics, ...studyFindings(model)];
      const errors = diagnostics.filter((d) => d.severity === 'error').length;
      if (options.json) {
        const findings = diagnostics.map((d) => ({
          ...d,
          file: path,
          start: placeOf(text, d.span.start),
          end: placeOf(text, d.span.end),
        }));
        process.stdout.write(`${JSON.stringify(findings, null, 2)}\n`);
      } else {
        for (const diagnostic of diagnostics) process.stdout.write(diagnosticText(path, text, diagnostic));
        const warnings = diagnostics.length - errors;
        process.stdout.write(`${path}: ${counted(errors, 'error')}, ${counted(warnings, 'warning')}\n`);
      }
      if (errors > 0) process.exitCode = 1;
    });
}
