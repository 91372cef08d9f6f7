import type { Design } from '../design/design.ts';
import { pointAt, pointCount, seedsAt } from '../design/design.ts';
import type { RunResult } from '../runner/simulate.ts';
import type { ResultBlock } from './block.ts';
import { runsIn } from './block.ts';

/** Which runs of a study are finished, as columns of the same length. */
export interface FinishedKeys {
  readonly points: readonly string[];
  readonly seeds: readonly number[];
  readonly failed: number;
}

/** The results of a study, found by point and seed, in whatever order they came. */
export class StudyResults {
  private readonly blocks: ResultBlock[] = [];
  /** What was worked out of the blocks as they are, by name. */
  private readonly known = new Map<string, unknown>();

  add(block: ResultBlock): void {
    this.blocks.push(block);
    this.known.clear();
  }

  /** Gives what was worked out of these results before, or works it out. @param name the same for the same thing */
  remembered<T>(name: string, workOut: () => T): T {
    if (!this.known.has(name)) this.known.set(name, workOut());
    return this.known.get(name) as T;
  }

  /** Finished runs, each once. */
  finished(): FinishedKeys {
    const all = this.byPoint();
    const entries = [...all].flatMap(([point, runs]) => [...runs].map(([seed, result]) => ({ point, seed, result })));
    return {
      points: entries.map(({ point }) => point),
      seeds: entries.map(({ seed }) => seed),
      failed: entries.filter(({ result }) => result === undefined).length,
    };
  }

  /** The results of each point in the order of the design, those of a point in the order of its seeds; what is still to come, or failed, is undefined. */
  inOrder(design: Design, most = Infinity): (RunResult | undefined)[][] {
    const all = this.byPoint();
    return Array.from({ length: Math.min(pointCount(design), most) }, (_, place) => {
      const runs = all.get(pointAt(design, place).id);
      return seedsAt(design, place).map((seed) => runs?.get(seed));
    });
  }

  /** By point, then by seed; a run that failed is there as undefined. A run that was done twice is the same twice. */
  private byPoint(): Map<string, Map<number, RunResult | undefined>> {
    const all = new Map<string, Map<number, RunResult | undefined>>();
    for (const block of this.blocks)
      for (const { point, seed, outcome } of runsIn(block)) {
        let runs = all.get(point);
        if (!runs) all.set(point, (runs = new Map<number, RunResult | undefined>()));
        runs.set(seed, 'result' in outcome ? outcome.result : undefined);
      }
    return all;
  }
}
