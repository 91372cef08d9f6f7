import type { Plan } from '../../plan/plan.ts';
import type { StudyJob, StudySetting } from '../design/design.ts';
import { jobOf, pointAt, pointCount, seedsAt } from '../design/design.ts';
import { meanEstimate } from '../statistics/intervals.ts';
import type { FinishedRun, Proposer } from './run-study.ts';

/** When a point has had enough seeds: when the mean of a summary is known within a share of itself, at the latest after so many seeds. */
export interface StoppingRule {
  /** Which summary, in the order of the text. */
  readonly summary: number;
  /** Half width of the 90 % interval of the mean, as a share of the mean. */
  readonly share: number;
  readonly most: number;
}

/** What a run that was finished before came to in the summary of the rule; NaN if it failed. */
export interface ValueOfRun {
  readonly point: string;
  readonly seed: number;
  readonly value: number;
}

/** Points are looked at first with so many seeds, then every so many more: looking at each run would stop at a lucky one. */
const FIRST_LOOK = 20;
const LOOK_EVERY = 10;

/** How many seeds a point gets, from the values of its first ones. @param values of the finished runs in the order of their seeds */
function seedsWanted({ share, most }: StoppingRule, values: readonly number[]): number {
  for (let look = Math.min(FIRST_LOOK, most); ; look = Math.min(most, look + LOOK_EVERY)) {
    if (values.length < look || look === most) return look;
    const { value, low, high } = meanEstimate(values.slice(0, look));
    if ((high - low) / 2 <= share * Math.abs(value)) return look;
  }
}

/** Runs every point of a design with seeds until the rule is met at it; which runs come of that does not depend on their order of completion. */
export class SeedsUntil implements Proposer {
  private readonly values = new Map<string, Map<number, number>>();
  private readonly proposed = new Map<string, number>();
  private place = 0;

  constructor(
    private readonly setting: StudySetting,
    private readonly plan: Plan,
    private readonly rule: StoppingRule,
    before: Iterable<ValueOfRun> = [],
  ) {
    for (const run of before) this.note(run);
  }

  next(): StudyJob | undefined {
    const { design } = this.setting;
    const count = pointCount(design);
    for (let tried = 0; tried < count; tried++) {
      const place = (this.place + tried) % count;
      const point = pointAt(design, place);
      const seeds = seedsAt(design, place);
      const done = this.values.get(point.id);
      const inOrder = seeds.map((seed) => done?.get(seed));
      const gap = inOrder.indexOf(undefined);
      const first = (gap < 0 ? inOrder : inOrder.slice(0, gap)) as number[];
      const wanted = Math.min(seeds.length, seedsWanted(this.rule, first));
      let next = this.proposed.get(point.id) ?? 0;
      while (next < wanted && inOrder[next] !== undefined) next++;
      if (next < wanted) {
        this.proposed.set(point.id, next + 1);
        this.place = place;
        return jobOf(this.setting, this.plan, point, seeds[next]!);
      }
      this.proposed.set(point.id, next);
    }
    return undefined;
  }

  took({ point, seed, outcome }: FinishedRun): void {
    this.note({ point, seed, value: 'result' in outcome ? outcome.result.summaries[this.rule.summary]! : NaN });
  }

  private note({ point, seed, value }: ValueOfRun): void {
    let values = this.values.get(point);
    if (!values) this.values.set(point, (values = new Map<number, number>()));
    values.set(seed, value);
  }
}
