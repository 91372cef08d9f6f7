import { basename } from 'node:path';
import { Command } from 'commander';
import type { FinishedRun, LoadedModel, Plan, Proposer, StudyDefinition, ValueOfRun } from '@vole/core';
import {
  ENGINE_VERSION,
  keyOfRun,
  missingRuns,
  pointCount,
  readStudy,
  runCount,
  runStudy,
  scenariosInText,
  SeedsUntil,
  studiesInText,
  textDigest,
  withOutcomes,
} from '@vole/core';
import { diagnosticText } from './diagnostic-text.ts';
import { interruptibly, readText } from './files.ts';
import type { ReadModel } from './model-file.ts';
import { modelOrExplain, studyFindings } from './model-file.ts';
import { Progress } from './progress.ts';
import { RecordFiles } from './record-files.ts';
import { modelPathOf, openFolder, workersOf } from './study-files.ts';
import { ThreadExecutor } from './thread-executor.ts';
import { UsageError } from './usage-error.ts';

interface StudyOptions {
  readonly out: string;
  readonly workers?: string;
  readonly resume?: boolean;
  readonly parquet?: boolean;
  readonly json?: boolean;
  readonly study?: string;
}

export function studyCommand(): Command {
  return new Command('study')
    .description(
      'Runs a study from its text and writes its tables: points, summaries, rows, and indices or differences where its design has some.',
    )
    .argument(
      '<study>',
      'a .study file, which names its model or has the name of it; or a .vole file with a study in it',
    )
    .option('--study <name>', 'which of the studies in the text of a model')
    .requiredOption('--out <folder>', 'the folder to write to')
    .option('--workers <n>', 'threads to run on (all cores if not given)')
    .option('--resume', 'go on with a study that was broken off in that folder')
    .option('--parquet', 'write rows and records as Parquet in place of CSV')
    .option('--json', 'what was done as JSON on standard output')
    .addHelpText(
      'after',
      '\nExamples:\n  vole study meadow-year.study --out results\n  vole study meadow-year.study --out results --resume --workers 4\n  vole study harvest.vole --study "Rain and stores" --out results',
    )
    .action((path: string, options: StudyOptions) => runStudyFile(path, options));
}

/** A study with its model, both right. */
interface ReadyStudy {
  readonly text: string;
  readonly model: ReadModel & { readonly loaded: LoadedModel };
  readonly study: StudyDefinition;
  /** Of the model with the outcomes of the study. */
  readonly plan: Plan;
}

async function runStudyFile(path: string, options: StudyOptions): Promise<void> {
  const workers = workersOf(options.workers);
  const ready = await studyOrExplain(path, options.study);
  if (!ready) return;
  const { study, model, plan, text } = ready;
  const folder = openFolder(model, [text], options, 'study.json');
  const before = folder.finished();
  const total = runCount(study.setting.design);
  const facts = {
    study: study.name,
    note: study.note,
    text,
    model: basename(model.path),
    modelDigest: textDigest(model.text),
    engine: ENGINE_VERSION,
  };
  const asParquet = options.parquet === true;
  const records = study.setting.records
    ? new RecordFiles(options.out, plan, study.setting, asParquet, facts)
    : undefined;
  const stopping = new AbortController();
  let done = before.length;
  const progress = new Progress(total, done, study.until !== undefined);
  const tell = (run: FinishedRun): void => {
    folder.take(records?.take(run) ?? run);
    progress.tell(++done);
  };
  const { status, problem } = await interruptibly(
    () => stopping.abort(),
    () =>
      runStudy({
        proposer: proposerOf(study, plan, before),
        executor: new ThreadExecutor(model, total, study.outcomes, workers),
        sink: { take: tell, flush: () => Promise.resolve(folder.flush()) },
        signal: stopping.signal,
        before: { done: before.length, failed: before.filter(({ outcome }) => 'failure' in outcome).length },
        toleratesFailures: true,
      }),
  );
  if (status === 'stopped') {
    process.stderr.write(
      `${problem ? `${problem}\n` : ''}stopped with ${done} of ${total} runs, which are kept; vole study ${path} --out ${options.out} --resume goes on\n`,
    );
    process.exitCode = problem ? 1 : 130;
    return;
  }
  const failed = folder.finish({
    plan,
    setting: study.setting,
    asParquet,
    facts,
  });
  process.stderr.write(
    `${done} runs of ${pointCount(study.setting.design)} points are in ${options.out}${failed > 0 ? `; ${failed} stopped before their end` : ''}\n`,
  );
  if (options.json)
    process.stdout.write(`${JSON.stringify({ folder: options.out, ...facts, runs: done, failed }, null, 2)}\n`);
  if (failed > 0) process.exitCode = 1;
}

/** The runs that are missing. */
function proposerOf({ setting, until }: StudyDefinition, plan: Plan, before: readonly FinishedRun[]): Proposer {
  if (until) return new SeedsUntil(setting, plan, until, before.map(valueOf(until.summary)));
  const known = new Set(before.map(({ point, seed }) => keyOfRun(point, seed)));
  return missingRuns(setting, plan, (point, seed) => known.has(keyOfRun(point, seed)));
}

/** What a run from before came to in a summary. */
function valueOf(summary: number): (run: FinishedRun) => ValueOfRun {
  return ({ point, seed, outcome }) => ({
    point,
    seed,
    value: 'result' in outcome ? outcome.result.summaries[summary]! : NaN,
  });
}

/** The text of the study that stands in a model: the only one, or that of a name. */
function studyInModel(path: string, { text, loaded }: ReadyStudy['model'], wanted: string | undefined): string {
  const { tree } = loaded.checked;
  const scenarios = scenariosInText(text, tree);
  const studies = studiesInText(text, tree);
  const all = studies.length === 0 && scenarios ? [scenarios] : studies;
  const names = all.map(({ name }) => `“${name}”`).join(', ');
  const found = wanted === undefined ? all : all.filter(({ name }) => name.toLowerCase() === wanted.toLowerCase());
  if (found.length === 1) return found[0]!.text;
  if (all.length === 0) throw new UsageError(`${path} has no study; write “study NAME” into it, or give a .study file`);
  throw new UsageError(
    wanted === undefined
      ? `${path} has several studies: ${names}; choose one with --study`
      : `${path} has no study “${wanted}”, but ${names}`,
  );
}

/** Reads a study and its model, or says what is wrong with them; sets exit code 1 and gives nothing if one has errors. */
async function studyOrExplain(path: string, wanted: string | undefined): Promise<ReadyStudy | undefined> {
  const isModel = path.endsWith('.vole');
  if (wanted !== undefined && !isModel) throw new UsageError('--study chooses among the studies of a .vole file');
  const written = readText(path);
  const model = await modelOrExplain(isModel ? path : modelPathOf(path, written));
  if (!model) return undefined;
  const text = isModel ? studyInModel(path, model, wanted) : written;
  const { study, diagnostics } = readStudy(text, model);
  const findings = isModel ? studyFindings(model) : diagnostics;
  for (const diagnostic of findings) process.stderr.write(diagnosticText(path, written, diagnostic));
  const loaded = study && withOutcomes(model.text, model.files, study.outcomes);
  if (study && loaded) return { text, model, study, plan: loaded.plan };
  process.exitCode = 1;
  return undefined;
}
