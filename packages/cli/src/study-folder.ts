import { appendFileSync, existsSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Cell, FinishedRun, Plan, RunResult, StudySetting } from '@vole/core';
import {
  BlockError,
  blockOf,
  csvOf,
  decodeBlock,
  differencesTable,
  encodeBlock,
  indicesTable,
  joinBlocks,
  keyOfRun,
  parquetOf,
  pointAt,
  pointCount,
  pointsTable,
  rowHeader,
  runRows,
  runsIn,
  seedsAt,
  splitBlocks,
  StudyResults,
  summaryHeader,
} from '@vole/core';
import { Output } from './files.ts';
import { UsageError } from './usage-error.ts';
import { whyNot } from './why-not.ts';

/** Where finished runs are kept until the tables are written, and after: blocks, each after its length as a 32-bit number. */
const JOURNAL = 'runs.blocks';
/** Runs are written at the latest after so many of them, or so long a time. */
const RUNS_A_BLOCK = 200;
const MOST_WAIT = 2000;

/** What the tables of a study are written from. */
export interface FinishedStudy {
  readonly plan: Plan;
  readonly setting: StudySetting;
  readonly asParquet: boolean;
  /** What study.json says beside seeds, runs and files. */
  readonly facts: Readonly<Record<string, string>>;
}

/** The folder of a study: its finished runs, kept as they come, then its tables. */
export class StudyFolder {
  private readonly runs: FinishedRun[];
  private waiting: FinishedRun[] = [];
  private writtenAt = Date.now();

  private constructor(
    private readonly folder: string,
    private readonly digest: string,
    private readonly keepsRuns: boolean,
    runs: FinishedRun[],
  ) {
    this.runs = runs;
  }

  /**
   * Opens a folder for a study, whose last file tells that it is finished. Runs that are there already are taken up if it is to go on; those of another study, model or version are not.
   * @param keepsRuns whether they stay after the tables are written, for other questions about the same model
   * @throws UsageError
   */
  static open(
    folder: string,
    digest: string,
    { resumes, last, keepsRuns }: { resumes: boolean; last: string; keepsRuns: boolean },
  ): StudyFolder {
    const journal = join(folder, JOURNAL);
    if (!existsSync(journal)) {
      if (existsSync(join(folder, last))) throw new UsageError(`${folder} holds a finished study; name another folder`);
      return new StudyFolder(folder, digest, keepsRuns, []);
    }
    if (!resumes)
      throw new UsageError(`${folder} holds runs of a study; --resume goes on with it, or name another folder`);
    return new StudyFolder(folder, digest, keepsRuns, readJournal(journal, digest));
  }

  finished(): readonly FinishedRun[] {
    return [...this.runs];
  }

  take(run: FinishedRun): void {
    this.runs.push(run);
    this.waiting.push(run);
    if (this.waiting.length >= RUNS_A_BLOCK || Date.now() - this.writtenAt > MOST_WAIT) this.flush();
  }

  /** Writes what waits. @throws UsageError if there is no room; what was written before stays */
  flush(): void {
    this.writtenAt = Date.now();
    if (this.waiting.length === 0) return;
    const bytes = joinBlocks([new Uint8Array(encodeBlock(blockOf(this.waiting), this.digest))]);
    this.waiting = [];
    try {
      appendFileSync(join(this.folder, JOURNAL), bytes);
    } catch (error) {
      throw new UsageError(
        `${join(this.folder, JOURNAL)} cannot be written (${whyNot(error)}); --resume goes on once it can`,
      );
    }
  }

  /** Writes all tables, whole or not at all, in the order of the design. @returns how many runs failed */
  finish({ plan, setting, asParquet, facts }: FinishedStudy): number {
    const { design } = setting;
    const results = new StudyResults();
    results.add(blockOf(this.runs));
    const inOrder = results.inOrder(design);
    const failures = new Set(
      this.runs.filter(({ outcome }) => 'failure' in outcome).map(({ point, seed }) => keyOfRun(point, seed)),
    );
    const points = pointsTable(plan, design);
    const keys = inOrder.flatMap((runs, place) =>
      runs.map((result, i) => ({
        result,
        place,
        run: place * design.seeds.length + i + 1,
        seed: seedsAt(design, place)[i]!,
      })),
    );
    const ended = keys.filter(({ result }) => result !== undefined) as readonly (RunKey & { result: RunResult })[];
    this.write('points.csv', points);
    const names = points[0]!.slice(1);
    const failed: (RunKey & { result: undefined })[] = keys.flatMap((key) =>
      key.result === undefined && failures.has(keyOfRun(pointAt(design, key.place).id, key.seed))
        ? [{ ...key, result: undefined }]
        : [],
    );
    const summaries = [...ended, ...failed].sort((a, b) => a.run - b.run);
    this.write('summaries.csv', [
      ['run', 'point', 'seed', 'steps', 'outcome', ...names, ...summaryHeader(plan).slice(3)],
      ...summaries.map(({ run, place, seed, result }): Cell[] => [
        run,
        place + 1,
        seed,
        result?.steps ?? NaN,
        result ? 'ended' : 'failed',
        ...points[place + 1]!.slice(1),
        ...(result ? [...result.summaries] : plan.summaries.map(() => NaN)),
      ]),
    ]);
    const header = rowHeader(plan, ['point']);
    const columns = ['run', 'point', 'seed', ...header.slice(3)];
    const rowsOf = ({ run, place, result }: RunKey & { result: RunResult }): Cell[][] =>
      runRows(plan, run, result, [place + 1]).map(([first, seed, point, ...rest]) => [first!, point!, seed!, ...rest]);
    if (asParquet)
      writeFileSync(
        join(this.folder, 'rows.parquet'),
        new Uint8Array(parquetOf(columns, () => flattened(each(ended, rowsOf)), facts)),
      );
    else this.write('rows.csv', [columns], each(ended, rowsOf));
    const indices = indicesTable(plan, design, results);
    if (indices.length > 1) this.write('indices.csv', indices);
    if (design.is === 'listed' && design.names) this.write('differences.csv', differencesTable(plan, design, results));
    const seedsUsed = inOrder.map((runs) => runs.filter((result) => result !== undefined).length);
    this.end('study.json', {
      ...facts,
      points: pointCount(design),
      runs: ended.length,
      failed: failed.length,
      seeds: design.ownSeeds ? 'own' : 'shared',
      seedsOfPoints: seedsUsed.every((count) => count === seedsUsed[0]) ? seedsUsed[0] : seedsUsed,
      every: setting.every,
    });
    return failed.length;
  }

  /** Writes the last file, which tells that the study is finished; its runs are in the tables now, unless they are kept. */
  end(name: string, facts: Readonly<Record<string, unknown>>): void {
    this.flush();
    writeFileSync(join(this.folder, name), `${JSON.stringify(facts, null, 2)}\n`);
    if (!this.keepsRuns) rmSync(join(this.folder, JOURNAL), { force: true });
  }

  /** A table as a file; rows of runs come run by run. */
  write(name: string, head: Cell[][], runs: Iterable<Cell[][]> = []): void {
    const output = new Output(join(this.folder, name), { inputs: [], force: true });
    try {
      output.line(csvOf(head));
      for (const rows of runs) if (rows.length > 0) output.line(csvOf(rows));
      output.finish();
    } catch (error) {
      output.abandon();
      throw error;
    }
  }
}

/** Rows run by run, made when they are written. */
function* each<T>(runs: readonly T[], rowsOf: (run: T) => Cell[][]): Generator<Cell[][]> {
  for (const run of runs) yield rowsOf(run);
}

function* flattened(runs: Iterable<Cell[][]>): Generator<Cell[]> {
  for (const rows of runs) yield* rows;
}

interface RunKey {
  readonly run: number;
  readonly place: number;
  readonly seed: number;
}

/** The runs of a journal. What was written last may be torn, by a crash or a full disk: it is cut off, and its runs are done again. */
function readJournal(path: string, digest: string): FinishedRun[] {
  const bytes = readFileSync(path);
  const { blocks, end } = splitBlocks(bytes);
  const runs: FinishedRun[] = [];
  let read = 0;
  for (const piece of blocks) {
    try {
      const { block, model } = decodeBlock(piece);
      if (model !== digest)
        throw new UsageError(`${path} has runs of another study, model or version of the engine; name another folder`);
      runs.push(...runsIn(block));
    } catch (error) {
      if (!(error instanceof BlockError)) throw error;
      truncateSync(path, read);
      return runs;
    }
    read += 4 + piece.byteLength;
  }
  if (end < bytes.length) truncateSync(path, end);
  return runs;
}
