import { Command, CommanderError } from 'commander';
import { ENGINE_VERSION } from '@vole/core';
import { checkCommand } from './check.ts';
import { checksCommand } from './checks.ts';
import { completionCommand } from './completion.ts';
import { formatCommand } from './format.ts';
import { infoCommand } from './info.ts';
import { matchCommand } from './match.ts';
import { newCommand } from './new.ts';
import { packCommand, unpackCommand } from './pack.ts';
import { reportCommand } from './report.ts';
import { runCommand } from './run.ts';
import { studyCommand } from './study.ts';
import { UsageError } from './usage-error.ts';
import { verifyCommand } from './verify.ts';

const EXAMPLES = `
Examples:
  vole new burrows                                        a folder with a model and a study to begin with
  vole check meadow-year.vole                             what is wrong with it, and what to do
  vole run meadow-year.vole --seeds 1..20 --summary       a row a run
  vole study meadow-year.study --out results              a study with its tables
  vole verify meadow.voleparade                           every number of a bundle, run again

Exit codes: 0 all well; 1 the model, a run, a check or a number is wrong; 2 a wrong call, or a file that cannot be read or written; 130 broken off.`;

const program = new Command('vole')
  .description('Checks, runs and studies models of Vole Parade.')
  .version(`Vole Parade, engine version ${ENGINE_VERSION}`)
  .addHelpText('after', EXAMPLES)
  .exitOverride()
  .configureHelp({ sortSubcommands: true })
  .showHelpAfterError('(vole --help lists the commands)');
for (const command of [
  checkCommand(),
  reportCommand(),
  runCommand(),
  studyCommand(),
  matchCommand(),
  checksCommand(),
  formatCommand(),
  infoCommand(),
  newCommand(),
  packCommand(),
  unpackCommand(),
  verifyCommand(),
  completionCommand(),
])
  program.addCommand(command);

for (const stream of [process.stdout, process.stderr]) {
  stream.on('error', (error: NodeJS.ErrnoException) => {
    // Whoever reads has enough, as in `vole check model.vole | head -1`.
    if (error.code === 'EPIPE') process.exit();
    if (stream === process.stdout)
      process.stderr.write(
        `vole: standard output cannot be written (${error.code === 'ENOSPC' ? 'there is no room left on the disk' : error.code})\n`,
      );
    process.exit(2);
  });
}

try {
  await program.parseAsync(process.argv);
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode;
  else if (error instanceof UsageError) {
    process.stderr.write(`vole: ${error.message}\n`);
    process.exitCode = 2;
  } else throw error;
}
