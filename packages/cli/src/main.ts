import { Command, CommanderError } from 'commander';
import { ENGINE_VERSION } from '@vole/core';
import { completionCommand } from './completion.ts';
import { UsageError } from './usage-error.ts';
import { whyNot } from './why-not.ts';

const EXAMPLES = `
Examples:
  vole new burrows                                        a folder with a model and a study to begin with
  vole check meadow-year.vole                             what is wrong with it, and what to do
  vole run meadow-year.vole --seeds 1..20 --summary       a row a run
  vole study meadow-year.study --out results              a study with its tables
  vole verify meadow.voleparade                           every number of a bundle, run again

Exit codes: 0 all well; 1 the model, a run, a check or a number is wrong; 2 a wrong call, or a file that cannot be read or written; 130 broken off.`;

/** Each command is loaded when it is called for, so that a short one starts at once. */
const COMMANDS = new Map<string, () => Promise<Command>>([
  ['check', async () => (await import('./check.ts')).checkCommand()],
  ['report', async () => (await import('./report.ts')).reportCommand()],
  ['run', async () => (await import('./run.ts')).runCommand()],
  ['study', async () => (await import('./study.ts')).studyCommand()],
  ['match', async () => (await import('./match.ts')).matchCommand()],
  ['checks', async () => (await import('./checks.ts')).checksCommand()],
  ['feed', async () => (await import('./feed.ts')).feedCommand()],
  ['format', async () => (await import('./format.ts')).formatCommand()],
  ['info', async () => (await import('./info.ts')).infoCommand()],
  ['new', async () => (await import('./new.ts')).newCommand()],
  ['pack', async () => (await import('./pack.ts')).packCommand()],
  ['unpack', async () => (await import('./pack.ts')).unpackCommand()],
  ['verify', async () => (await import('./verify.ts')).verifyCommand()],
]);

/** What the first word calls for; all there is where it names no command, and for the completion of all of them. */
async function commandsFor(word: string | undefined): Promise<Command[]> {
  const named = COMMANDS.get(word ?? '');
  if (named) return [await named()];
  const all = await Promise.all([...COMMANDS.values()].map((load) => load()));
  return [...all, completionCommand()];
}

const program = new Command('vole')
  .description('Checks, runs and studies models of Vole Parade.')
  .version(`Vole Parade, engine version ${ENGINE_VERSION}`)
  .addHelpText('after', EXAMPLES)
  .exitOverride()
  .configureHelp({ sortSubcommands: true })
  .showHelpAfterError('(vole --help lists the commands)');
for (const command of await commandsFor(process.argv[2])) program.addCommand(command);

for (const stream of [process.stdout, process.stderr]) {
  stream.on('error', (error: NodeJS.ErrnoException) => {
    // Whoever reads has enough, as in `vole check model.vole | head -1`.
    if (error.code === 'EPIPE') process.exit();
    if (stream === process.stdout) process.stderr.write(`vole: standard output cannot be written (${whyNot(error)})\n`);
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
