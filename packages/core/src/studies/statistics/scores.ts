import { gather } from '../../measures/numeric/gather.ts';
import type { RunResult } from '../runner/simulate.ts';
import type { Bands } from './bands.ts';
import { valueInRow } from './bands.ts';

/** A value that was observed at a time. */
export interface ObservedPoint {
  /** In base units of time from the start. */
  readonly time: number;
  readonly value: number;
}

/** How observed values and an ensemble agree. Errors are those of the median, in the measure's unit. */
export interface Scores {
  readonly points: number;
  /** Points outside the simulated time, which are not scored. */
  readonly outside: number;
  readonly rootMeanSquareError: number;
  /** Mean of median less observed: above 0 the model gives more. */
  readonly bias: number;
  readonly inside50: number;
  readonly inside90: number;
  /** Mean continuous ranked probability score; the lower the better. Source: T. Gneiting and A. Raftery (2007), eq. 21. */
  readonly rankedProbabilityScore: number;
}

/** The kept row nearest to a time, or -1 outside the run. */
function rowOfTime(time: number, bands: Pick<Bands, 'steps'>, stepLength: number): number {
  const every = bands.steps.length > 1 ? bands.steps[1]! - bands.steps[0]! : 1;
  const row = Math.round(time / stepLength / every);
  return row >= 0 && row < bands.steps.length ? row : -1;
}

/**
 * Scores observed points against the bands and runs of one measure.
 * @param stepLength in base units of time
 */
export function scoresOf(
  points: readonly ObservedPoint[],
  bands: Bands,
  results: readonly RunResult[],
  measure: number,
  measureCount: number,
  stepLength: number,
): Scores {
  const scored = points.flatMap((point) => {
    const row = rowOfTime(point.time, bands, stepLength);
    return row < 0 ? [] : [{ row, value: point.value }];
  });
  const errors = scored.map(({ row, value }) => bands.median[row]! - value);
  const isInside = (low: Float64Array, high: Float64Array): number =>
    scored.filter(({ row, value }) => value >= low[row]! && value <= high[row]!).length;
  // Many points may fall on one row, whose ensemble is sorted once.
  const ensembles = new Map<number, Float64Array>();
  const ensembleAt = (row: number): Float64Array => {
    let ensemble = ensembles.get(row);
    if (!ensemble) {
      ensemble = Float64Array.from(
        results.map((result) => valueInRow(result, measure, measureCount, row)).filter((value) => !Number.isNaN(value)),
      ).sort();
      ensembles.set(row, ensemble);
    }
    return ensemble;
  };
  const ranked = scored.map(({ row, value }) => rankedScore(ensembleAt(row), value));
  const mean = (values: readonly number[]): number => gather('mean', Float64Array.from(values), values.length);
  return {
    points: scored.length,
    outside: points.length - scored.length,
    rootMeanSquareError: Math.sqrt(mean(errors.map((error) => error * error))),
    bias: mean(errors),
    inside50: isInside(bands.low50, bands.high50),
    inside90: isInside(bands.low90, bands.high90),
    rankedProbabilityScore: mean(ranked),
  };
}

function rankedScore(values: Float64Array, observed: number): number {
  const n = values.length;
  let distance = 0;
  let spread = 0;
  values.forEach((value, i) => {
    distance += Math.abs(value - observed);
    spread += value * (2 * i - n + 1);
  });
  return distance / n - spread / (n * n);
}
