import { fading } from './fading.ts';
import { hidden, matchOf, posteriorOf, searched } from './search-through.ts';

/** How near a best point lies to hidden values, beside the means of their posteriors. */
export interface PointErrors {
  readonly parameters: readonly string[];
  /** Root mean square errors, in the units of the parameters. */
  readonly ofBest: readonly number[];
  readonly ofMeans: readonly number[];
}

/** @param repetitions hidden values, each with a best point and a posterior of its own */
export function pointErrors(repetitions: number): PointErrors {
  const [best, means] = [
    'by best point, at most 2000 runs',
    'by sequential monte carlo, 200 draws, at most 2000 runs',
  ].map((by) => fading(by));
  let parameters: readonly string[] = [];
  const squares = { best: [] as number[], means: [] as number[] };
  for (let number = 0; number < repetitions; number++) {
    const { values, table } = hidden(best!, number);
    const point = searched(best!, matchOf(best!, table, number + 1)).bestPoint!;
    const { draws, weights } = posteriorOf(means!, matchOf(means!, table, number + 1));
    ({ parameters } = point);
    values.forEach((value, i) => {
      const mean = draws.reduce((sum, draw, k) => sum + weights[k]! * draw[i]!, 0);
      squares.best[i] = (squares.best[i] ?? 0) + (point.values[i]! - value) ** 2 / repetitions;
      squares.means[i] = (squares.means[i] ?? 0) + (mean - value) ** 2 / repetitions;
    });
  }
  return { parameters, ofBest: squares.best.map(Math.sqrt), ofMeans: squares.means.map(Math.sqrt) };
}

/** How often what history matching leaves holds the hidden values, and how much it leaves. */
export interface RegionsKept {
  readonly parameters: readonly string[];
  /** Repetitions in which a hidden value lies among the draws of what is left, for each unknown. */
  readonly inside: readonly number[];
  /** Mean share of the priors that is left. */
  readonly left: number;
}

/** @param repetitions hidden values, each with waves of its own */
export function regionsKept(repetitions: number): RegionsKept {
  const trial = fading('by history matching, 200 draws, at most 1500 runs');
  let parameters: readonly string[] = [];
  const inside: number[] = [];
  let left = 0;
  for (let number = 0; number < repetitions; number++) {
    const { values, table } = hidden(trial, number);
    const found = searched(trial, matchOf(trial, table, number + 1)).posterior;
    left += (found?.left ?? 0) / repetitions;
    if (found) ({ parameters } = found);
    values.forEach((value, i) => {
      const own = found?.draws.map((draw) => draw[i]!) ?? [];
      const isInside = Math.min(...own) <= value && value <= Math.max(...own);
      inside[i] = (inside[i] ?? 0) + (isInside ? 1 : 0);
    });
  }
  return { parameters, inside, left };
}
