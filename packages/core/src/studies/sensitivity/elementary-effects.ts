import { mean, sampleStandardDeviation } from 'simple-statistics';
import { EFFECT_STEP } from '../design/samples.ts';
import type { Interval } from './resample.ts';
import { resampled } from './resample.ts';

/** What changing one factor does, over the whole range of all of them. All in the unit of the summary, for a change over the whole range. */
export interface ElementaryEffect {
  /** Mean of the sizes of the effects: how much the factor matters, whichever way it acts. With an interval over paths. */
  readonly size: Interval;
  /** Mean of the effects: which way it acts. */
  readonly mean: number;
  /** Standard deviation of the effects: how much they depend on where the other factors stand, or are not straight. */
  readonly spread: number;
  /** Paths without an empty value. */
  readonly paths: number;
}

/**
 * Elementary effects of each factor from the values along paths (`effectPaths`).
 * @param levels of the rows, path after path
 * @param values one a row, in the same order; rows with NaN are left out
 * @returns one a factor; sizes are mu*, means mu and spreads sigma of F. Campolongo et al. (2007) and M. D. Morris (1991)
 */
export function elementaryEffects(
  levels: readonly (readonly number[])[],
  values: readonly number[],
  factors: number,
): ElementaryEffect[] {
  const length = factors + 1;
  const effects = Array.from({ length: factors }, () => [] as number[]);
  for (let path = 0; path + length <= levels.length; path += length)
    for (let i = path + 1; i < path + length; i++) {
      const factor = levels[i]!.findIndex((level, f) => Math.abs(level - levels[i - 1]![f]!) > EFFECT_STEP / 2);
      const change = levels[i]![factor]! - levels[i - 1]![factor]!;
      const effect = (values[i]! - values[i - 1]!) / change;
      if (!Number.isNaN(effect)) effects[factor]!.push(effect);
    }
  return effects.map((own) => {
    const size = (rows: readonly number[]): number =>
      rows.reduce((sum, row) => sum + Math.abs(own[row]!), 0) / rows.length;
    return {
      size: resampled(own.length, size),
      mean: own.length > 0 ? mean(own) : NaN,
      spread: own.length > 1 ? sampleStandardDeviation(own) : NaN,
      paths: own.length,
    };
  });
}
