import { Command, CommanderError } from 'commander';
import { checkCommand } from './check.ts';
import { checksCommand } from './checks.ts';
import { formatCommand } from './format.ts';
import { infoCommand } from './info.ts';
import { runCommand } from './run.ts';
import { UsageError } from './usage.ts';

const program = new Command('vole')
  .description('Checks and runs models of Vole Parade.')
  .exitOverride()
  .configureHelp({ sortSubcommands: true })
  .showHelpAfterError('(vole --help lists the commands)');
for (const command of [checkCommand(), runCommand(), checksCommand(), formatCommand(), infoCommand()]) program.addCommand(command);

try {
  await program.parseAsync(process.argv);
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode;
  else if (error instanceof UsageError) {
    process.stderr.write(`vole: ${error.message}\n`);
    process.exitCode = 2;
  } else throw error;
}
