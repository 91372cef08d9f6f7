import { pointAt, pointCount } from '../design/design.ts';
import { factorialEffects } from '../sensitivity/factorial-effects.ts';
import { luckShare } from '../sensitivity/luck.ts';
import type { SummaryEstimate } from '../statistics/intervals.ts';
import { meanOfMeans, shareEstimate, summaryEstimate } from '../statistics/intervals.ts';
import type { AskedStudy } from './answer.ts';
import type { EffectsAnswer, GroupAnswer, PointAnswer } from './questions.ts';

/** Answers about the points of a design, and about what several of them have in common. */

/** Each summary at each of the first points. */
export function pointsOf({ plan, design, results }: AskedStudy, most: number): PointAnswer[] {
  return results.inOrder(design, most).map((all, place) => {
    const runs = all.filter((result) => result !== undefined);
    return {
      ...pointAt(design, place),
      runs: runs.length,
      estimates: plan.summaries.map(({ yesNo }, s) =>
        summaryEstimate(
          runs.map(({ summaries }) => summaries[s]!),
          yesNo,
        ),
      ),
    };
  });
}

/** Points with the same values of some factors together, in the order of these values. Each point counts alike, however many runs it has. */
export function groupsOf(study: AskedStudy, by: readonly number[]): GroupAnswer[] {
  const { plan, design, results } = study;
  const groups = new Map<string, { readonly values: readonly number[]; readonly places: number[] }>();
  for (let place = 0; place < pointCount(design); place++) {
    const all = pointAt(design, place).values;
    const values = by.map((factor) => all[factor]!);
    const key = values.join(' ');
    const group = groups.get(key) ?? { values, places: [] };
    groups.set(key, group);
    group.places.push(place);
  }
  return [...groups.values()]
    .sort((a, b) => a.values.map((value, i) => value - b.values[i]!).find((apart) => apart !== 0) ?? 0)
    .map(({ values, places }) => {
      const runs = places.map((place) => results.ofPoint(design, place));
      return {
        values,
        runs: runs.flat().filter((result) => result !== undefined).length,
        estimates: plan.summaries.map(({ yesNo }, s) =>
          groupEstimate(
            runs.map((own) => own.map((run) => run?.summaries[s])),
            yesNo,
            design.ownSeeds !== true,
          ),
        ),
      };
    });
}

/** @param values of each point, by seed; undefined where a run is missing, NaN where it is empty */
function groupEstimate(
  values: readonly (readonly (number | undefined)[])[],
  yesNo: boolean,
  shared: boolean,
): SummaryEstimate {
  const finished = values.flat().filter((value) => value !== undefined);
  const present = finished.filter((value) => !Number.isNaN(value));
  const estimate = meanOfMeans(values, shared);
  const seeds = Math.max(0, ...values.map((own) => own.length));
  // A share has the interval of as many runs as there are seeds: points with the same seed are not independent.
  const { low, high } =
    yesNo && seeds > 0 && present.length > 0 ? shareEstimate(estimate.value * seeds, seeds) : estimate;
  return {
    value: estimate.value,
    low,
    high,
    runs: present.length,
    yes: yesNo ? present.filter((value) => value !== 0).length : 0,
    never: finished.length - present.length,
  };
}

/** Main effects and interactions; nothing where a point is missing, or where there is no variance between points. */
export function factorialEffectsOf({ plan, design, results }: AskedStudy, s: number): EffectsAnswer | undefined {
  const isFull = design.is === 'every combination' || design.method === 'every combination';
  const levels = design.factors.map(({ values }) => values.length);
  const isWhole = pointCount(design) === levels.reduce((product, count) => product * count, 1);
  if (!isFull || !isWhole || levels.length === 0 || !plan.summaries[s]) return undefined;
  const values = results.inOrder(design).map((own) => own.map((run) => run?.summaries[s] ?? NaN));
  const present = values.map((own) => own.filter((value) => !Number.isNaN(value)));
  if (present.some((own) => own.length < 2)) return undefined;
  const effects = factorialEffects(values, levels, design.ownSeeds !== true);
  if (!effects) return undefined;
  return { effects, luck: luckShare(present).share, seeds: design.seeds.length };
}
