import type { Diagnostic } from '../../diagnostics.ts';
import type { FinishedRun } from '../runner/run-study.ts';
import type { RunOutcome, RunResult } from '../runner/simulate.ts';

/** Finished runs of a study as columns: what is stored, sent and exported. Rows and summaries of all runs stand one after another. */
export interface ResultBlock {
  /** Points of the design that the runs are of, each once. */
  readonly points: readonly string[];
  /** Keeps the rows of steps 0, every, 2 every, ... */
  readonly every: number;
  /** Numbers of `summaries` a run. */
  readonly summaryCount: number;
  /** Why runs failed, by their place in the block. */
  readonly failures: Readonly<Record<number, Diagnostic>>;
  /** A run each: place of its point in `points`. */
  readonly point: Uint32Array;
  readonly seed: Float64Array;
  /** Steps the run took; 0 if it failed. */
  readonly steps: Float64Array;
  readonly refused: Float64Array;
  /** A run each, and one more: where its numbers begin in `rows`, and where the last ones end. */
  readonly firstNumber: Uint32Array;
  /** Kept rows, measures within. */
  readonly rows: Float64Array;
  readonly summaries: Float64Array;
}

/** Puts runs into a block. Those that failed have no numbers. */
export function blockOf(runs: readonly FinishedRun[]): ResultBlock {
  const results = runs.map(({ outcome }) => ('result' in outcome ? outcome.result : undefined));
  const first = results.find((result) => result !== undefined);
  const summaryCount = first?.summaries.length ?? 0;
  const places = new Map<string, number>();
  for (const { point } of runs) if (!places.has(point)) places.set(point, places.size);
  const firstNumber = new Uint32Array(runs.length + 1);
  results.forEach((result, i) => (firstNumber[i + 1] = firstNumber[i]! + (result?.rows.length ?? 0)));
  const block: ResultBlock = {
    points: [...places.keys()],
    every: first?.every ?? 1,
    summaryCount,
    failures: Object.fromEntries(
      runs.flatMap(({ outcome }, i) => ('failure' in outcome ? [[i, outcome.failure] as const] : [])),
    ),
    point: Uint32Array.from(runs, ({ point }) => places.get(point)!),
    seed: Float64Array.from(runs, ({ seed }) => seed),
    steps: Float64Array.from(results, (result) => result?.steps ?? 0),
    refused: Float64Array.from(results, (result) => result?.refused ?? 0),
    firstNumber,
    rows: new Float64Array(firstNumber[runs.length]!),
    summaries: new Float64Array(runs.length * summaryCount),
  };
  results.forEach((result, i) => {
    if (!result) return;
    block.rows.set(result.rows, firstNumber[i]);
    block.summaries.set(result.summaries, i * summaryCount);
  });
  return block;
}

/** The runs of a block; their numbers are those of the block, not copies. */
export function runsIn(block: ResultBlock): FinishedRun[] {
  return Array.from(block.seed, (seed, i): FinishedRun => ({
    point: block.points[block.point[i]!]!,
    seed,
    outcome: outcomeAt(block, i),
  }));
}

/** What came of a run of a block; its numbers are those of the block, not copies. */
export function outcomeAt(block: ResultBlock, i: number): RunOutcome {
  const failure = block.failures[i];
  return failure ? { failure, seed: block.seed[i]! } : { result: resultAt(block, i) };
}

/** A run of a block that came to its end; its numbers are those of the block, not copies. */
export function resultAt(block: ResultBlock, i: number): RunResult {
  const { summaryCount } = block;
  return {
    seed: block.seed[i]!,
    steps: block.steps[i]!,
    rows: block.rows.subarray(block.firstNumber[i], block.firstNumber[i + 1]),
    every: block.every,
    summaries: block.summaries.subarray(i * summaryCount, (i + 1) * summaryCount),
    refused: block.refused[i]!,
  };
}
