import type { Interval } from './resample.ts';
import { resampled } from './resample.ts';

/** What one factor, or two together, account for. */
export interface FactorialEffect {
  /** Places of the factors: one for a main effect, two for what they do together beyond what each does alone. */
  readonly factors: readonly number[];
  /** Share of the variance between points, luck taken off; a little below 0 where there is nothing but luck. */
  readonly share: Interval;
}

/**
 * Main effects and interactions of two factors as shares of the variance between points, by the analysis of variance of a full factorial
 * design; what luck alone would make of each is taken off (omega squared: W. L. Hays, Statistics for Psychologists, 1963, ch. 12).
 * Intervals draw seeds with putting back.
 * @param values of each point by seed, NaN where one is empty; the last factor of the design changes fastest
 * @param levels number of values of each factor
 * @param shared the same seeds at every point: what a seed does at all of them alike is no luck between points
 * @returns nothing where points do not differ by more than luck
 */
export function factorialEffects(
  values: readonly (readonly number[])[],
  levels: readonly number[],
  shared: boolean,
): FactorialEffect[] | undefined {
  const terms = termsOf(levels);
  const seeds = Math.max(0, ...values.map((own) => own.length));
  const bySample = new Map<number, readonly number[] | undefined>();
  const sharesOf = (rows: readonly number[], sample: number): readonly number[] | undefined => {
    if (!bySample.has(sample)) bySample.set(sample, sharesIn(values, rows, terms, shared));
    return bySample.get(sample);
  };
  const all = Array.from({ length: seeds }, (_, i) => i);
  if (!sharesOf(all, 0)) return undefined;
  return terms.map(({ factors }, t) => ({
    factors,
    share: resampled(seeds, (rows, sample) => sharesOf(rows, sample)?.[t] ?? NaN),
  }));
}

interface Term {
  readonly factors: readonly number[];
  /** For each point, which combination of the values of these factors it has. */
  readonly group: Uint32Array;
  readonly groups: number;
  /** Degrees of freedom. */
  readonly free: number;
  /** Of a pair: places of the main effects of both. */
  readonly parts: readonly number[];
}

function termsOf(levels: readonly number[]): Term[] {
  const points = levels.reduce((product, count) => product * count, 1);
  const levelOf = (point: number, factor: number): number => {
    const faster = levels.slice(factor + 1).reduce((product, count) => product * count, 1);
    return Math.floor(point / faster) % levels[factor]!;
  };
  const termOf = (factors: readonly number[], parts: readonly number[]): Term => ({
    factors,
    group: Uint32Array.from({ length: points }, (_, point) =>
      factors.reduce((at, factor) => at * levels[factor]! + levelOf(point, factor), 0),
    ),
    groups: factors.reduce((product, factor) => product * levels[factor]!, 1),
    free: factors.reduce((product, factor) => product * (levels[factor]! - 1), 1),
    parts,
  });
  const singles = levels.map((_, factor) => termOf([factor], []));
  const pairs = levels.flatMap((_, a) => levels.slice(a + 1).map((_, i) => termOf([a, a + 1 + i], [a, a + 1 + i])));
  return [...singles, ...pairs];
}

/** The share of each term, from the seeds of some rows. */
function sharesIn(
  values: readonly (readonly number[])[],
  rows: readonly number[],
  terms: readonly Term[],
  shared: boolean,
): readonly number[] | undefined {
  const points = values.length;
  const means = values.map((own) => meanOf(own, rows));
  const centre = means.reduce((sum, x) => sum + x, 0) / points;
  const apart = means.map((x) => x - centre);
  const luck = luckOfMeans(values, rows, means, shared);
  const effects: Float64Array[] = [];
  const variances = terms.map(({ group, groups, free, parts }, t) => {
    const effect = new Float64Array(groups);
    apart.forEach((x, point) => (effect[group[point]!]! += (x * groups) / points));
    // What both do alone is taken off what they do together; any point of a group tells which these are.
    if (parts.length > 0) {
      const done = new Uint8Array(groups);
      group.forEach((g, point) => {
        if (done[g]) return;
        done[g] = 1;
        for (const part of parts) effect[g]! -= effects[part]![terms[part]!.group[point]!]!;
      });
    }
    effects[t] = effect;
    return effect.reduce((sum, x) => sum + x * x, 0) / groups - (free / points) * luck;
  });
  const between = apart.reduce((sum, x) => sum + x * x, 0) / points - ((points - 1) / points) * luck;
  return between > 0 ? variances.map((x) => x / between) : undefined;
}

function meanOf(own: readonly number[], rows: readonly number[]): number {
  let sum = 0;
  let count = 0;
  for (const row of rows) {
    const value = own[row]!;
    if (Number.isNaN(value)) continue;
    sum += value;
    count++;
  }
  return sum / count;
}

/** Variance of a point's mean that is luck. With shared seeds, what a seed adds at all points alike is taken off first. */
function luckOfMeans(
  values: readonly (readonly number[])[],
  rows: readonly number[],
  means: readonly number[],
  shared: boolean,
): number {
  const points = values.length;
  let squares = 0;
  let free = 0;
  const residual = (point: number, row: number): number => values[point]![row]! - means[point]!;
  for (const row of rows) {
    let own = 0;
    let present = 0;
    for (let point = 0; point < points; point++) {
      const x = residual(point, row);
      if (Number.isNaN(x)) continue;
      own += x;
      present++;
      squares += x * x;
    }
    if (shared && present > 0) squares -= (own * own) / present;
    free += shared ? Math.max(0, present - 1) : present;
  }
  free -= shared ? points - 1 : points;
  return free > 0 ? squares / free / rows.length : 0;
}
