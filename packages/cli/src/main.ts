import { Command, CommanderError } from 'commander';
import { checkCommand } from './check.ts';
import { checksCommand } from './checks.ts';
import { formatCommand } from './format.ts';
import { infoCommand } from './info.ts';
import { matchCommand } from './match.ts';
import { reportCommand } from './report.ts';
import { runCommand } from './run.ts';
import { studyCommand } from './study.ts';
import { UsageError } from './usage-error.ts';

const program = new Command('vole')
  .description('Checks and runs models of Vole Parade.')
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
