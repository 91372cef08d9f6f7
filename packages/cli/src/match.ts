import { existsSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Command } from 'commander';
import type {
  Cell,
  FinishedRun,
  LoadedModel,
  MatchDefinition,
  ObservedTable,
  RunWithValues,
  StudyJob,
} from '@vole/core';
import {
  ENGINE_VERSION,
  jobsOf,
  keyOfRun,
  matchRuns,
  matchTables,
  MatchSearch,
  missingRuns,
  readCsv,
  readMatch,
  runStudy,
  tablesNamedIn,
  textDigest,
} from '@vole/core';
import { diagnosticText } from './diagnostic-text.ts';
import { interruptibly, readText } from './files.ts';
import type { ReadModel } from './model-file.ts';
import { modelOrExplain } from './model-file.ts';
import { Progress } from './progress.ts';
import { modelPathOf, openFolder, workersOf } from './study-files.ts';
import type { StudyFolder } from './study-folder.ts';
import { ThreadExecutor } from './thread-executor.ts';
import { UsageError } from './usage-error.ts';

interface MatchOptions {
  readonly out: string;
  readonly workers?: string;
  readonly resume?: boolean;
  readonly json?: boolean;
}

export function matchCommand(): Command {
  return new Command('match')
    .description(
      'Holds a model against what was observed, from the text of a match, and finds what agrees if it seeks something: scores, posterior, what is predicted.',
    )
    .argument('<match>', 'a .match file; it names its model, or has the name of it, and its tables lie beside it')
    .requiredOption('--out <folder>', 'the folder to write to')
    .option('--workers <n>', 'threads to run on (all cores if not given)')
    .option('--resume', 'use the runs in that folder: of a match that was broken off, or had another text')
    .option('--json', 'what was found as JSON on standard output')
    .addHelpText(
      'after',
      '\nExamples:\n  vole match whistle-craze.match --out found\n  vole match whistle-craze.match --out found --resume',
    )
    .action((path: string, options: MatchOptions) => runMatchFile(path, options));
}

interface ReadyMatch {
  readonly text: string;
  readonly model: ReadModel & { readonly loaded: LoadedModel };
  readonly tables: ReadonlyMap<string, string>;
  readonly match: MatchDefinition;
}

async function runMatchFile(path: string, options: MatchOptions): Promise<void> {
  const workers = workersOf(options.workers);
  const ready = await matchOrExplain(path);
  if (!ready) return;
  const { match, model } = ready;
  const { plan } = model.loaded;
  const values = new Map(Object.entries(match.parameters));
  // What runs are of: another text of the match that leaves this as it is can use them again.
  const setting = JSON.stringify([plan.parameters.map(({ name, value }) => values.get(name) ?? value), match.steps]);
  const folder = openFolder(model, [setting], options, 'match.json');
  const known = new Map(folder.finished().map((run) => [keyOfRun(run.point, run.seed), run.outcome]));
  const scored = match.search ? [] : [...jobsOf(matchRuns(match), plan)];
  const search = match.search && new MatchSearch(match, plan, (point, seed) => known.get(keyOfRun(point, seed)));
  const total = match.search?.mostRuns ?? match.seeds;
  const stopping = new AbortController();
  let begun = scored.filter(({ point, seed }) => known.has(keyOfRun(point, seed))).length;
  const done = (): number => search?.runs ?? begun;
  const progress = new Progress(total, done(), search !== undefined);
  const take = (run: FinishedRun): void => {
    folder.take(run);
    begun++;
    progress.tell(done());
  };
  const { status, problem } = await interruptibly(
    () => stopping.abort(),
    () =>
      runStudy({
        proposer: search ?? missingRuns(matchRuns(match), plan, (point, seed) => known.has(keyOfRun(point, seed))),
        executor: new ThreadExecutor(model, total, [], workers),
        sink: { take, flush: () => Promise.resolve(folder.flush()) },
        signal: stopping.signal,
        toleratesFailures: true,
      }),
  );
  if (status === 'stopped') {
    process.stderr.write(
      `${problem ? `${problem}\n` : ''}stopped with ${done()} runs, which are kept; vole match ${path} --out ${options.out} --resume goes on\n`,
    );
    process.exitCode = problem ? 1 : 130;
    return;
  }
  if (search?.problem) throw new UsageError(`nothing was found: ${search.problem}`);
  const facts = writeTables(folder, ready, search, runsAmong(folder, search?.predictive ?? scored));
  if (options.json) process.stdout.write(`${JSON.stringify({ folder: options.out, ...facts }, null, 2)}\n`);
  process.stderr.write(
    `${done()} ${done() === 1 ? 'run' : 'runs'}; scores and what is predicted are in ${options.out}\n`,
  );
}

/** The runs of some jobs, in their order. */
function runsAmong(folder: StudyFolder, jobs: readonly StudyJob[]): RunWithValues[] {
  const outcomes = new Map(folder.finished().map((run) => [keyOfRun(run.point, run.seed), run.outcome]));
  return jobs.flatMap(({ point, seed, parameters }) => {
    const outcome = outcomes.get(keyOfRun(point, seed));
    return outcome && 'result' in outcome ? [{ result: outcome.result, parameters }] : [];
  });
}

/** Writes the tables of a match. @returns what its last file says */
function writeTables(
  folder: StudyFolder,
  { match, model, text, tables }: ReadyMatch,
  search: MatchSearch | undefined,
  runs: readonly RunWithValues[],
): Readonly<Record<string, unknown>> {
  const { plan } = model.loaded;
  if (runs.length === 0)
    throw new UsageError('no run came to its end, so nothing can be compared; vole run says why a run fails');
  const posterior = search?.posterior;
  const nearest = search?.bestPoint;
  for (const [name, rows] of Object.entries(matchTables(match, runs, plan, posterior)))
    folder.write(`${name}.csv`, rows as Cell[][]);
  const facts = {
    match: match.name,
    note: match.note,
    text,
    model: basename(model.path),
    modelDigest: textDigest(model.text),
    tables: Object.fromEntries([...tables].map(([name, content]) => [name, textDigest(content)])),
    engine: ENGINE_VERSION,
    runs: search?.runs ?? runs.length,
    ...(posterior
      ? {
          method: posterior.method,
          ...(posterior.left === undefined ? {} : { notRuledOut: posterior.left }),
          rounds: posterior.rounds,
          accepted: posterior.accepted,
          tolerance: posterior.tolerance,
          effectiveDraws: posterior.effective,
          adjusted: posterior.isAdjusted,
          best: Object.fromEntries(posterior.parameters.map((name, i) => [name, posterior.best[i]!])),
        }
      : {}),
    ...(nearest
      ? {
          generations: nearest.generations,
          reach: nearest.reach,
          best: Object.fromEntries(nearest.parameters.map((name, i) => [name, nearest.values[i]!])),
        }
      : {}),
  };
  folder.end('match.json', facts);
  return facts;
}

/** Reads a match with its model and tables, or says what is wrong with them; sets exit code 1 and gives nothing if one has errors. */
async function matchOrExplain(path: string): Promise<ReadyMatch | undefined> {
  const text = readText(path);
  const model = await modelOrExplain(modelPathOf(path, text));
  if (!model) return undefined;
  const tables = new Map(
    tablesNamedIn(text)
      .filter((name) => !/[\\/]/.test(name) && existsSync(join(dirname(path), name)))
      .map((name) => [name, readText(join(dirname(path), name))]),
  );
  const { match, diagnostics } = readMatch(
    text,
    model,
    new Map([...tables].map(([name, csv]) => [name, tableOf(name, csv)])),
  );
  for (const diagnostic of diagnostics) process.stderr.write(diagnosticText(path, text, diagnostic));
  if (match) return { text, model, tables, match };
  process.exitCode = 1;
  return undefined;
}

function tableOf(name: string, csv: string): ObservedTable {
  try {
    return readCsv(csv);
  } catch (error) {
    throw new UsageError(`${name} cannot be read. ${(error as Error).message}`);
  }
}
