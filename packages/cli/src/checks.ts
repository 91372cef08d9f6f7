import { Command } from 'commander';
import type { CheckOutcome } from '@vole/core';
import { compilePlan, expectationWords, runCheck } from '@vole/core';
import { diagnosticText } from './diagnostic-text.ts';
import type { ReadModel } from './model-file.ts';
import { modelOrExplain } from './model-file.ts';

export function checksCommand(): Command {
  return new Command('checks')
    .description('Runs the checks of a model over their seeds, a line each; exit code 1 if one is red.')
    .argument('<model>', 'a .vole file')
    .option('--json', 'outcomes as JSON on standard output')
    .addHelpText('after', '\nExamples:\n  vole checks meadow-year.vole\n  vole checks meadow-year.vole --json')
    .action(async (path: string, options: { json?: boolean }) => {
      const model = await modelOrExplain(path);
      if (!model) return;
      const { loaded } = model;
      const compiled = compilePlan(loaded.plan);
      if (loaded.plan.checks.length === 0 && !options.json) process.stdout.write(`${path} has no checks.\n`);
      const outcomes = loaded.plan.checks.map((check) => {
        const outcome = runCheck(compiled, check);
        if (!options.json) process.stdout.write(outcomeText(model, outcome));
        if (!outcome.holds) process.exitCode = 1;
        return outcome;
      });
      if (options.json) process.stdout.write(`${JSON.stringify(outcomes, null, 2)}\n`);
    });
}

function outcomeText({ path, text: source }: ReadModel, { title, holds, expectations, failure }: CheckOutcome): string {
  if (failure)
    return `red    ${title}: seed ${failure.seed} stopped\n${diagnosticText(path, source, failure.diagnostic)}`;
  return `${holds ? 'green' : 'red  '}  ${title}: ${expectations.map(expectationWords).join('; ')}\n`;
}
