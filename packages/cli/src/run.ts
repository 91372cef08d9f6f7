import { join } from 'node:path';
import { Command } from 'commander';
import type { FinishedRun, LoadedModel, Proposer, RunOutcome, StudyJob } from '@vole/core';
import {
  csvOf,
  jobsOf,
  MOST_NOTES,
  noteCells,
  noteHeader,
  readParameter,
  recordHeader,
  recordCells,
  rowHeader,
  runRows,
  runStudy,
  summaryHeader,
  summaryRow,
  writesNotes,
} from '@vole/core';
import { diagnosticText } from './diagnostic-text.ts';
import type { WriteRules } from './files.ts';
import { makeFolder, Output } from './files.ts';
import { modelOrExplain } from './model-file.ts';
import { ThreadExecutor } from './thread-executor.ts';
import { recordNames } from './record-files.ts';
import { UsageError } from './usage-error.ts';

interface RunOptions {
  readonly seed?: string;
  readonly seeds?: string;
  readonly set?: string[];
  readonly steps?: string;
  readonly every?: string;
  readonly out?: string;
  readonly summary?: boolean;
  readonly record?: string;
  readonly log?: string;
  readonly force?: boolean;
}

export function runCommand(): Command {
  return new Command('run')
    .description('Runs a model and writes a tidy CSV: a row per run and kept step, or per run with --summary.')
    .argument('<model>', 'a .vole file')
    .option('--seed <n>', 'one seed (1 if none is given)')
    .option('--seeds <a..b>', 'all seeds from a to b')
    .option('--set <name=value...>', 'values of parameters; with or without their units')
    .option('--steps <n>', 'end after so many steps, if the model does not end before')
    .option('--every <n>', 'keep the rows of steps 0, n, 2n, ...')
    .option('--out <file>', 'write to a file instead of standard output')
    .option('--summary', 'one row a run: its summaries')
    .option('--record <folder>', 'write the records of agents and meetings too, a CSV each, into a folder')
    .option('--log <file>', 'write what “log” lines of the text say too, as CSV: the first 10,000 of each run')
    .option('--force', 'replace files that are there already; the model and its data never are')
    .addHelpText(
      'after',
      '\nExamples:\n  vole run meadow-year.vole --seed 3\n  vole run meadow-year.vole --seeds 1..20 --set "strike=1 per week" kestrels=4 --summary --out summaries.csv',
    )
    .action((path: string, options: RunOptions) => runModel(path, options));
}

async function runModel(path: string, options: RunOptions): Promise<void> {
  const model = await modelOrExplain(path);
  if (!model) return;
  const { loaded, text } = model;
  const seeds = readSeeds(options);
  const every = readWhole(options.every ?? '1', '--every', 1);
  const steps = options.steps === undefined ? undefined : readWhole(options.steps, '--steps', 0);
  const parameters = readSettings(loaded, options.set ?? []);
  const rules: WriteRules = { inputs: model.inputs, force: options.force === true };
  const records = options.record === undefined ? [] : openRecords(loaded, options.record, rules);
  const log = options.log === undefined ? undefined : openLog(loaded, options.log, rules);
  const output = new Output(options.out, rules);
  const outputs = [output, ...records];
  let failures = 0;
  try {
    output.line(csvOf([options.summary ? summaryHeader(loaded.plan) : rowHeader(loaded.plan)]));
    const jobs = jobsOf(
      { design: { is: 'every combination', factors: [], seeds }, parameters, steps, every },
      loaded.plan,
    );
    const executor = new ThreadExecutor(model, seeds.length);
    const wishes = { records: options.record !== undefined, notes: log !== undefined };
    await runInOrder(executor, seeds, jobs, wishes, (outcome, i) => {
      const seed = seeds[i - 1]!;
      const notes = ('failure' in outcome ? outcome.notes : outcome.result.notes) ?? [];
      if (notes.length > 0) log!.line(csvOf(noteCells(loaded.plan, text, i, seed, notes)));
      if (notes.length >= MOST_NOTES)
        process.stderr.write(
          `seed ${seed}: ${options.log!} has the first ${MOST_NOTES} notes of the run, up to step ${notes.at(-1)!.step}\n`,
        );
      if ('failure' in outcome) {
        failures++;
        if (failures <= MOST_FAILURES_TOLD)
          process.stderr.write(`seed ${seed}: ${diagnosticText(path, text, outcome.failure)}`);
        return;
      }
      const rows = options.summary ? [summaryRow(i, outcome.result)] : runRows(loaded.plan, i, outcome.result);
      output.line(csvOf(rows));
      records.forEach((record, r) => {
        const kept = recordCells(loaded.plan, r, i, seed, outcome.result.records![r]!);
        if (kept.length > 0) record.line(csvOf(kept));
      });
      if (seeds.length > 1 || options.out)
        process.stderr.write(`run ${i} of ${seeds.length}, seed ${seed}: ${outcome.result.steps} steps\n`);
    });
    for (const each of outputs) {
      if (failures < seeds.length) each.finish();
      else each.abandon();
    }
    // Of runs that stopped the notes tell why.
    log?.finish();
  } catch (error) {
    for (const each of log ? [...outputs, log] : outputs) each.abandon();
    throw error;
  }
  if (failures === 0) return;
  process.exitCode = 1;
  if (seeds.length > 1)
    process.stderr.write(
      `${failures} of ${seeds.length} runs stopped before their end and have no rows${failures > MOST_FAILURES_TOLD ? `; the first ${MOST_FAILURES_TOLD} are told above` : ''}\n`,
    );
}

/** Runs in flight or waiting to be written, as a multiple of those that the executor takes: few enough that results do not pile up. */
const AHEAD = 2;

/** Runs seeds on all cores and hands their outcomes over in their order, numbered from 1. */
async function runInOrder(
  executor: ThreadExecutor,
  seeds: readonly number[],
  jobs: Iterator<StudyJob, undefined>,
  wishes: Pick<StudyJob, 'records' | 'notes'>,
  write: (outcome: RunOutcome, run: number) => void,
): Promise<void> {
  const waiting = new Map<number, RunOutcome>();
  let proposed = 0;
  let written = 0;
  const proposer: Proposer = {
    next() {
      const { value: job } = proposed - written < executor.width * AHEAD ? jobs.next() : { value: undefined };
      if (job) proposed++;
      return job && { ...job, ...wishes };
    },
  };
  const take = ({ seed, outcome }: FinishedRun): void => {
    waiting.set(seed, outcome);
    for (let next = waiting.get(seeds[written]!); next; next = waiting.get(seeds[written]!)) {
      waiting.delete(seeds[written]!);
      write(next, ++written);
    }
  };
  const { problem } = await runStudy({
    proposer,
    executor,
    sink: { take, flush: () => Promise.resolve() },
    toleratesFailures: true,
  });
  if (problem) throw new Error(problem);
}

/** A file for each record of the model, named after it; further ones of one name are numbered. */
function openRecords(loaded: LoadedModel, folder: string, rules: WriteRules): Output[] {
  const { records } = loaded.plan;
  if (records.length === 0) throw new UsageError('the model has no “record” to write');
  makeFolder(folder);
  return recordNames(loaded.plan).map((name, i) => {
    const output = new Output(join(folder, `${name}.csv`), rules);
    output.line(csvOf([recordHeader(loaded.plan, i)]));
    return output;
  });
}

/** The file of what `log` lines say. */
function openLog({ plan }: LoadedModel, path: string, rules: WriteRules): Output {
  if (!writesNotes(plan)) throw new UsageError('the model has no “log” line to write');
  const output = new Output(path, rules);
  output.line(csvOf([noteHeader(plan)]));
  return output;
}

function readWhole(text: string, option: string, least: number): number {
  const value = Number(text);
  if (!/^\d+$/.test(text) || value < least || !Number.isSafeInteger(value))
    throw new UsageError(`${option} takes a whole number from ${least} on, not “${text}”`);
  return value;
}

const MAX_SEEDS = 1_000_000;

/** Of runs that fail so many are told in full. */
const MOST_FAILURES_TOLD = 5;

function readSeeds(options: RunOptions): number[] {
  if (options.seeds === undefined) return [readWhole(options.seed ?? '1', '--seed', 0)];
  if (options.seed !== undefined) throw new UsageError('give either --seed or --seeds');
  const range = /^(\d+)\.\.(\d+)$/.exec(options.seeds);
  const [first, last] = range ? [Number(range[1]), Number(range[2])] : [1, 0];
  if (!range || last < first || !Number.isSafeInteger(last))
    throw new UsageError(`--seeds takes a range such as 1..40, not “${options.seeds}”`);
  if (last - first >= MAX_SEEDS)
    throw new UsageError(`--seeds ${options.seeds} are ${last - first + 1} runs; at most ${MAX_SEEDS} go in one call`);
  return Array.from({ length: last - first + 1 }, (_, i) => first + i);
}

/** Values of parameters by name, in base units. */
function readSettings(loaded: LoadedModel, settings: readonly string[]): Record<string, number> {
  const values = new Map<string, number>();
  for (const setting of settings) {
    const split = setting.indexOf('=');
    const name = setting.slice(0, split < 0 ? undefined : split).trim();
    if (split < 0) throw new UsageError(`--set takes name=value, not “${setting}”`);
    const parameter = loaded.checked.parameters.find((p) => p.key === name.toLowerCase());
    if (!parameter) {
      throw new UsageError(
        `the model has no parameter “${name}”; its parameters are ${loaded.checked.parameters.map((p) => p.name).join(', ') || 'none'}`,
      );
    }
    if (values.has(parameter.name))
      throw new UsageError(`--set gives ${parameter.name} twice; a run has one value of it`);
    const reading = readParameter(loaded.checked, parameter, setting.slice(split + 1));
    if ('problem' in reading) throw new UsageError(reading.problem);
    values.set(parameter.name, reading.value);
  }
  return Object.fromEntries(values);
}
