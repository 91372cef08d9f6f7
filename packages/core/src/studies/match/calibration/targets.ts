import { gather } from '../../../measures/numeric/gather.ts';
import { writtenOf } from '../ensemble.ts';
import type { TiedSeries } from '../read-match.ts';

/** An observation that is to be met, of which series it is, and how far runs of the same values lie apart there. */
interface Target {
  readonly series: number;
  readonly observation: number;
  readonly observed: number;
  /** Of a squared distance in standard deviations. */
  readonly weight: number;
  readonly spread: number;
}

/** Where runs of the same values do not differ at all, a difference of this share of the greatest of the series counts as one standard deviation. */
const EXACT = 1e-3;

/** What a run is held against, and how far it is from it. */
export class Targets {
  private constructor(private readonly targets: readonly Target[]) {}

  /**
   * The observations that are not held out and that runs reach. Each series counts by its weight, however many observations it has; distances are in
   * standard deviations of pilot runs that all have the same values.
   * @param pilots of each pilot run, of each series, what an observer might have written; empty where a run does not reach
   */
  static from(
    series: readonly TiedSeries[],
    heldOutFrom: number | undefined,
    pilots: readonly (readonly Float64Array[])[],
  ): Targets {
    return new Targets(
      series.flatMap(({ observations, weight }, place) => {
        const greatest = observations.reduce((most, { value }) => Math.max(most, Math.abs(value)), 0);
        const reached = observations.flatMap(({ time, value }, observation) => {
          const written = Float64Array.from(pilots, (run) => run[place]![observation]!).filter((x) => !Number.isNaN(x));
          if (time >= (heldOutFrom ?? Infinity) || written.length === 0 || written.length < pilots.length / 2)
            return [];
          const sd = gather('sd', written, written.length);
          const spread = sd > 0 ? sd : greatest > 0 ? greatest * EXACT : 1;
          return [{ series: place, observation, observed: value, spread }];
        });
        return reached.map((target) => ({ ...target, weight: weight / reached.length }));
      }),
    );
  }

  get observed(): number[] {
    return this.targets.map(({ observed }) => observed);
  }

  /** What was written of a run less what was observed, in standard deviations of the pilots. */
  scaled(picked: readonly number[]): number[] {
    return this.targets.map(({ observed, spread }, i) => (picked[i]! - observed) / spread);
  }

  /** What an observer might have written of a run, in the order of the targets. @param written of each series */
  pick(written: readonly Float64Array[]): number[] {
    return this.targets.map(({ series, observation }) => written[series]![observation]!);
  }

  /** Root of the weighted mean of squared distances in standard deviations; endless where a run does not reach a target. */
  distance(picked: readonly number[]): number {
    let [sum, total] = [0, 0];
    const apart = this.scaled(picked);
    this.targets.forEach(({ weight }, i) => {
      sum += weight * apart[i]! * apart[i]!;
      total += weight;
    });
    const distance = Math.sqrt(sum / total);
    return Number.isNaN(distance) ? Infinity : distance;
  }
}

/** What an observer might have written of a run in every series. @param exact of each series, without errors */
export function writtenSeries(
  series: readonly TiedSeries[],
  exact: readonly Float64Array[],
  seed: number,
): Float64Array[] {
  return exact.map((numbers, place) =>
    writtenOf(numbers, series[place]!.observations, series[place]!.error, { seed, series: place, draw: 0 }),
  );
}
