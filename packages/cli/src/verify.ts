import { Command } from 'commander';
import type { Bundle, BundleStudy, ModelFile } from '@vole/core';
import {
  ENGINE_VERSION,
  fileMarks,
  loadModel,
  modelFiles,
  otherFiles,
  quotedNames,
  Rerun,
  resultName,
  runStudy,
} from '@vole/core';
import { readBundleAt } from './bundle-files.ts';
import { interruptibly } from './files.ts';
import { Progress } from './progress.ts';
import { workersOf } from './study-files.ts';
import { ThreadExecutor } from './thread-executor.ts';

interface VerifyOptions {
  readonly workers?: string;
  readonly json?: boolean;
}

/** What came of one study of a bundle when it was run again. */
interface Verdict {
  readonly study: string;
  readonly kind: BundleStudy['kind'];
  readonly runs: number;
  /** Whether the numbers are the same to the bit; absent if there is nothing to hold them against, or it could not be run. */
  readonly same?: boolean;
  /** Why it could not be held against, or where its tables differ first. */
  readonly because?: string;
}

export function verifyCommand(): Command {
  return new Command('verify')
    .description('Runs all studies of a bundle again and holds every number against those in it, to the bit.')
    .argument('<bundle>', 'a .voleparade file, or the folder that one was unpacked into')
    .option('--workers <n>', 'threads to run on (all cores if not given)')
    .option('--json', 'what came out as JSON on standard output')
    .addHelpText(
      'after',
      '\nExamples:\n  vole verify meadow.voleparade\n  vole verify meadow --json\n\nExit code 0 if all is the same, 1 if a number differs or cannot be held against.',
    )
    .action((path: string, options: VerifyOptions) => verify(path, options));
}

async function verify(path: string, options: VerifyOptions): Promise<void> {
  const workers = workersOf(options.workers);
  const bundle = readBundleAt(path);
  const files = await modelFiles(Object.entries(bundle.files));
  const modelIsRight = loadModel(bundle.model, files).loaded !== undefined;
  const stopping = new AbortController();
  const verdicts: Verdict[] = [];
  await interruptibly(
    () => stopping.abort(),
    async () => {
      const numbers = new Map<string, number>();
      for (const study of bundle.studies) {
        const number = (numbers.get(study.kind) ?? 0) + 1;
        numbers.set(study.kind, number);
        const verdict = stopping.signal.aborted
          ? { study: study.name, kind: study.kind, runs: 0, because: 'it was not begun' }
          : await verdictOf(study, number, bundle, files, workers, stopping.signal);
        verdicts.push(verdict);
        if (!options.json) process.stdout.write(`${verdictWords(verdict)}\n`);
      }
    },
  );
  const holds = modelIsRight && verdicts.every(({ same }) => same === true);
  if (options.json)
    process.stdout.write(
      `${JSON.stringify({ bundle: path, project: bundle.project.name, engine: bundle.engine, here: ENGINE_VERSION, modelIsRight, holds, studies: verdicts }, null, 2)}\n`,
    );
  else {
    if (!modelIsRight) process.stdout.write('The text of the model has errors.\n');
    if (bundle.engine !== ENGINE_VERSION)
      process.stdout.write(
        `The bundle was made by engine version ${bundle.engine}, this is version ${ENGINE_VERSION}: numbers may differ.\n`,
      );
    if (verdicts.length === 0) process.stdout.write('The bundle has no studies to run again.\n');
  }
  if (stopping.signal.aborted) process.exitCode = 130;
  else if (!holds) process.exitCode = 1;
}

async function verdictOf(
  study: BundleStudy,
  number: number,
  bundle: Bundle,
  files: ReadonlyMap<string, ModelFile>,
  workers: number | undefined,
  signal: AbortSignal,
): Promise<Verdict> {
  const { name, kind, digest } = study;
  const told = { study: name, kind, runs: 0 };
  if (!digest) return { ...told, because: 'it was not finished when the bundle was made' };
  const rerun = Rerun.of(study, bundle.model, files);
  if ('problem' in rerun) return { ...told, because: rerun.problem };
  const others = otherFiles(study, fileMarks(files));
  if (others.length > 0)
    return {
      ...told,
      because: `${quotedNames(others)} of the bundle ${others.length === 1 ? 'is another file' : 'are other files'} than when it ran`,
    };
  process.stderr.write(`${name}:\n`);
  const progress = new Progress(rerun.total, 0, study.until !== undefined || kind === 'match');
  let runs = 0;
  const { status, problem } = await runStudy({
    proposer: rerun.proposer,
    executor: new ThreadExecutor({ text: rerun.text, files }, rerun.total, study.outcomes, workers),
    sink: {
      take: (run) => {
        rerun.take(run);
        progress.tell(++runs);
      },
      flush: () => Promise.resolve(),
    },
    signal,
    toleratesFailures: true,
  });
  if (status === 'stopped') return { ...told, runs, because: problem ?? 'it was broken off' };
  const same = rerun.digest(digest) === digest;
  const tables = Object.entries(rerun.tables()).flatMap(([what, here]) => {
    const table = resultName(kind, number, what);
    const there = Object.hasOwn(bundle.tables, table) ? bundle.tables[table] : undefined;
    return there === undefined ? [] : firstDifference(table, there, here);
  });
  if (same && tables.length === 0) return { ...told, runs, same: true };
  return { ...told, runs, same: false, because: tables[0] ?? 'its checksum is another one' };
}

/** Where two tables differ first, if they do. Headings are held against nothing: earlier versions wrote fewer units into them. */
function firstDifference(table: string, there: string, here: string): string[] {
  const [theirs, ours] = [there.split('\n'), here.split('\n')];
  const line = theirs.findIndex((text, i) => i > 0 && text !== ours[i]);
  if (line < 0 && theirs.length === ours.length) return [];
  const at = line < 0 ? theirs.length : line;
  return [`${table} differs first in line ${at + 1}: “${theirs[at] ?? ''}” in the bundle, “${ours[at] ?? ''}” here`];
}

function verdictWords({ study, runs, same, because }: Verdict): string {
  if (same) return `same       ${study}: ${runs} runs, every number the same to the bit`;
  return same === false
    ? `other      ${study}: ${runs} runs, other numbers; ${because}`
    : `not known  ${study}: ${because}`;
}
