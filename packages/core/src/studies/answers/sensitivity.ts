import { mean } from 'simple-statistics';
import type { Plan } from '../../plan/plan.ts';
import type { Design, ListedDesign } from '../design/design.ts';
import { isSampled } from '../design/design.ts';
import { levelsOf } from '../design/make-design.ts';
import type { StudyResults } from '../results/study-results.ts';
import { elementaryEffects } from '../sensitivity/elementary-effects.ts';
import { luckShare } from '../sensitivity/luck.ts';
import { rankCorrelations } from '../sensitivity/rank-correlations.ts';
import type { Interval } from '../sensitivity/resample.ts';
import { varianceIndices } from '../sensitivity/variance-indices.ts';

/** What a sensitivity index is of, by its name in tables. */
type IndexName =
  | 'size of effects'
  | 'mean of effects'
  | 'spread of effects'
  | 'first index'
  | 'total index'
  | 'rank correlation'
  | 'partial rank correlation';

/** An index of a factor for a summary; what has no interval has NaN as its ends. */
interface SensitivityIndex extends Interval {
  readonly factor: string;
  readonly index: IndexName;
}

/** How the factors of a sampled design act on one summary. Indices are of the mean over the seeds of each point. */
export interface Sensitivity {
  readonly indices: readonly SensitivityIndex[];
  /** Share of the variance over all runs that is luck, NaN with one seed a point. */
  readonly luck: number;
  /** Points that have a mean; the others are left out. */
  readonly points: number;
}

/** Indices of each summary, in the order of the text; nothing of a design that has none. */
export function sensitivityOf(plan: Plan, design: Design, results: StudyResults): Sensitivity[] {
  return plan.summaries.flatMap((_, s) => sensitivityOfSummary(plan, design, results, s) ?? []);
}

/** Indices of one summary; nothing of a design that has none. */
export function sensitivityOfSummary(
  plan: Plan,
  design: Design,
  results: StudyResults,
  s: number,
): Sensitivity | undefined {
  if (design.is !== 'listed' || design.factors.length === 0 || !isSampled(design.method) || !plan.summaries[s])
    return undefined;
  const values = results.inOrder(design).map((all) => all.flatMap((run) => (run ? [run.summaries[s]!] : [])));
  const means = values.map((own) => {
    const present = own.filter((value) => !Number.isNaN(value));
    return present.length > 0 ? mean(present) : NaN;
  });
  return {
    indices: indicesOf(design, means),
    luck: luckShare(values).share,
    points: means.filter((value) => !Number.isNaN(value)).length,
  };
}

function indicesOf(
  { method, factors, points, rows, sample }: ListedDesign,
  means: readonly number[],
): SensitivityIndex[] {
  const inRows = rows?.map((place) => means[place]!) ?? [];
  const named = (f: number, index: IndexName, interval: Interval): SensitivityIndex => ({
    factor: factors[f]!.parameter,
    index,
    ...interval,
  });
  const bare = (value: number): Interval => ({ value, low: NaN, high: NaN });
  if (method === 'elementary effects' && sample) {
    const levels = levelsOf(method, sample.count, factors.length, sample.luck);
    return elementaryEffects(levels, inRows, factors.length).flatMap((effect, f) => [
      named(f, 'size of effects', effect.size),
      named(f, 'mean of effects', bare(effect.mean)),
      named(f, 'spread of effects', bare(effect.spread)),
    ]);
  }
  if (method === 'sobol indices')
    return varianceIndices(inRows, factors.length).flatMap(({ first, total }, f) => [
      named(f, 'first index', first),
      named(f, 'total index', total),
    ]);
  return rankCorrelations(rows?.map((place) => points[place]!) ?? points, rows ? inRows : means).flatMap(
    ({ rank, partial }, f) => [named(f, 'rank correlation', rank), named(f, 'partial rank correlation', partial)],
  );
}
