import type { Option } from 'commander';
import { Command } from 'commander';

export function completionCommand(): Command {
  return new Command('completion')
    .description('Prints what makes a shell complete commands, options and files.')
    .argument('<shell>', 'bash')
    .addHelpText(
      'after',
      '\nExamples:\n  source <(vole completion bash)\n  vole completion bash > ~/.local/share/bash-completion/completions/vole',
    )
    .action((shell: string, _options: unknown, command: Command) => {
      if (shell !== 'bash') command.error(`error: there is completion for bash, not for “${shell}”`);
      process.stdout.write(bashCompletion(command.parent!.commands));
    });
}

/** Endings of the files that each command takes. */
const TAKES: Readonly<Record<string, string>> = {
  check: 'vole',
  checks: 'vole',
  format: 'vole',
  info: 'vole',
  match: 'match',
  report: 'vole',
  run: 'vole',
  study: 'study',
  unpack: 'voleparade',
  verify: 'voleparade',
};

function bashCompletion(commands: readonly Command[]): string {
  const names = commands.map((command) => command.name());
  const cases = commands.map((command) => {
    const options = command.options.flatMap(({ long, short }) => [long, short].filter((name) => name !== undefined));
    const ending = TAKES[command.name()];
    const files = ending ? `-f -X '!*.${ending}'` : '-f';
    return `    ${command.name()}) options="${[...options, '--help'].join(' ')}"; files=(${files}) ;;`;
  });
  const free = commands
    .flatMap((command) => command.options)
    .filter((option) => takesNoFile(option))
    .map(({ long }) => long);
  return `# Completion for bash: source <(vole completion bash)
_vole() {
  local word=\${COMP_WORDS[COMP_CWORD]} before=\${COMP_WORDS[COMP_CWORD-1]} command=\${COMP_WORDS[1]} options files
  if [ "$COMP_CWORD" -eq 1 ]; then
    mapfile -t COMPREPLY < <(compgen -W "${[...names, 'help', '--help', '--version'].join(' ')}" -- "$word")
    return
  fi
  case $command in
${cases.join('\n')}
    *) return ;;
  esac
  case $before in
    ${[...new Set(free)].join('|')}) COMPREPLY=(); return ;;
    --out|-o|--record) mapfile -t COMPREPLY < <(compgen -f -- "$word"); return ;;
  esac
  if [[ $word == -* ]]; then mapfile -t COMPREPLY < <(compgen -W "$options" -- "$word")
  else mapfile -t COMPREPLY < <(compgen "\${files[@]}" -- "$word"; compgen -d -- "$word"); fi
}
complete -o filenames -F _vole vole
`;
}

/** Whether a word follows that is no file. */
function takesNoFile({ long, required, optional }: Option): boolean {
  return (required || optional) && long !== '--out' && long !== '--record';
}
