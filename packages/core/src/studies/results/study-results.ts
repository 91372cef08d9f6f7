import type { Design } from '../design/design.ts';
import { pointAt, pointCount, seedsAt } from '../design/design.ts';
import type { FinishedRun } from '../runner/run-study.ts';
import type { RunOutcome, RunResult } from '../runner/simulate.ts';
import type { ResultBlock } from './block.ts';
import { outcomeAt, resultAt } from './block.ts';

/** Which runs of a study are finished, as columns of the same length. */
export interface FinishedKeys {
  readonly points: readonly string[];
  readonly seeds: readonly number[];
  readonly failed: number;
  /** What each came to in the summary that was asked for, NaN of those that failed. */
  readonly values: readonly number[];
}

/** Runs a block has at most: with it, block and place in the block make one number. */
const MOST_IN_BLOCK = 16_777_216;

/** Runs that came to their end as columns, in the order of the design: where the rows of many runs are not needed. */
export interface RunColumns {
  /** Place of the point of each run in the design. */
  readonly place: Uint32Array;
  readonly seed: Float64Array;
  readonly steps: Float64Array;
  /** One column a summary. */
  readonly summaries: readonly Float64Array[];
}

/** The results of a study, found by point and seed, in whatever order they came. */
export class StudyResults {
  private readonly blocks: ResultBlock[] = [];
  /** Where the run of a point and a seed lies: its block and its place in it. A run that was done twice is the same twice. */
  private readonly runs = new Map<string, Map<number, number>>();
  /** What was worked out of the blocks as they are, by name. */
  private readonly known = new Map<string, unknown>();

  add(block: ResultBlock): void {
    const first = this.blocks.push(block) * MOST_IN_BLOCK - MOST_IN_BLOCK;
    const ofPoints = block.points.map((point) => {
      let runs = this.runs.get(point);
      if (!runs) this.runs.set(point, (runs = new Map<number, number>()));
      return runs;
    });
    block.seed.forEach((seed, i) => ofPoints[block.point[i]!]!.set(seed, first + i));
    this.known.clear();
  }

  /** Gives what was worked out of these results before, or works it out. @param name the same for the same thing */
  remembered<T>(name: string, workOut: () => T): T {
    if (!this.known.has(name)) this.known.set(name, workOut());
    return this.known.get(name) as T;
  }

  /** The same, but of one name only what was worked out last is kept: for what is large and asked for in many ways. */
  rememberedLast<T>(name: string, way: string, workOut: () => T): T {
    const last = this.known.get(name) as { readonly way: string; readonly value: T } | undefined;
    if (last?.way === way) return last.value;
    const value = workOut();
    this.known.set(name, { way, value });
    return value;
  }

  /** Finished runs, each once. @param summary whose values are told too */
  finished(summary?: number): FinishedKeys {
    const points: string[] = [];
    const seeds: number[] = [];
    const values: number[] = [];
    let failed = 0;
    for (const [point, runs] of this.runs)
      for (const [seed, at] of runs) {
        points.push(point);
        seeds.push(seed);
        if (this.hasFailed(at)) failed++;
        if (summary === undefined) continue;
        const [block, i] = this.whereIs(at);
        values.push(this.hasFailed(at) ? NaN : block.summaries[i * block.summaryCount + summary]!);
      }
    return { points, seeds, failed, values };
  }

  /** All finished runs, each once; their numbers are those of the blocks, not copies. */
  all(): FinishedRun[] {
    return [...this.runs].flatMap(([point, runs]) =>
      [...runs].map(([seed, at]): FinishedRun => ({ point, seed, outcome: outcomeAt(...this.whereIs(at)) })),
    );
  }

  /** The results of each point in the order of the design, those of a point in the order of its seeds; what is still to come, or failed, is undefined. */
  inOrder(design: Design, most = Infinity): (RunResult | undefined)[][] {
    return Array.from({ length: Math.min(pointCount(design), most) }, (_, place) => this.ofPoint(design, place));
  }

  /** The same of one point. */
  ofPoint(design: Design, place: number): (RunResult | undefined)[] {
    const runs = this.runs.get(pointAt(design, place).id);
    return seedsAt(design, place).map((seed) => {
      const at = runs?.get(seed);
      return at === undefined || this.hasFailed(at) ? undefined : resultAt(...this.whereIs(at));
    });
  }

  /** What came of one run, if it is finished. */
  outcome(point: string, seed: number): RunOutcome | undefined {
    const at = this.runs.get(point)?.get(seed);
    return at === undefined ? undefined : outcomeAt(...this.whereIs(at));
  }

  /** All runs that came to their end, as columns. */
  columns(design: Design): RunColumns {
    return this.remembered(JSON.stringify(['columns', design.seeds.length]), () => this.makeColumns(design));
  }

  private makeColumns(design: Design): RunColumns {
    const places: number[] = [];
    const found: number[] = [];
    for (let place = 0; place < pointCount(design); place++) {
      const runs = this.runs.get(pointAt(design, place).id);
      if (!runs) continue;
      for (const seed of seedsAt(design, place)) {
        const at = runs.get(seed);
        if (at === undefined || this.hasFailed(at)) continue;
        places.push(place);
        found.push(at);
      }
    }
    const count = found.length;
    const summaryCount = Math.max(0, ...this.blocks.map((block) => block.summaryCount));
    const columns = {
      place: Uint32Array.from(places),
      seed: new Float64Array(count),
      steps: new Float64Array(count),
      summaries: Array.from({ length: summaryCount }, () => new Float64Array(count)),
    };
    found.forEach((at, run) => {
      const [block, i] = this.whereIs(at);
      columns.seed[run] = block.seed[i]!;
      columns.steps[run] = block.steps[i]!;
      columns.summaries.forEach((column, s) => (column[run] = block.summaries[i * summaryCount + s]!));
    });
    return columns;
  }

  private whereIs(at: number): [block: ResultBlock, i: number] {
    return [this.blocks[Math.floor(at / MOST_IN_BLOCK)]!, at % MOST_IN_BLOCK];
  }

  private hasFailed(at: number): boolean {
    const [block, i] = this.whereIs(at);
    return Object.hasOwn(block.failures, i);
  }
}
