import type { Design, DesignMethod, ListedDesign } from './design.ts';
import { isSampled } from './design.ts';
import type { Factor } from './factors.ts';
import { combinationAt, combinationCount } from './factors.ts';
import type { Levels } from './samples.ts';
import { effectPaths, indexLevels, latinHypercube, randomLevels, sobolLevels } from './samples.ts';
import { MOST_DIMENSIONS } from './sobol-sequence.ts';
import type { Spread } from './spread.ts';
import { spreadQuantile } from './spread.ts';

/** A factor as a study varies it: by values one by one, or spread. */
export type VariedFactor = Factor | { readonly parameter: string; readonly spread: Spread };

/** What a design is made of. */
export interface DesignWish {
  readonly method: DesignMethod;
  /** Points, paths or rows of A, of designs that have a number. */
  readonly count: number;
  /** Seed of the luck by which points are drawn. */
  readonly luck: number;
  readonly factors: readonly VariedFactor[];
  /** Values by parameter in the unit in which they are shown. */
  readonly scenarios: readonly {
    readonly name: string;
    readonly values: ReadonlyMap<string, number>;
    /** Timeline lines that are laid over the model. */
    readonly timeline: readonly string[];
  }[];
  /** The value of a parameter that is not varied, in the unit in which it is shown. */
  readonly base: (parameter: string) => number;
  /** Which points are left out. */
  readonly isLeftOut?: (values: readonly number[]) => boolean;
  /** How many seeds each point has. */
  readonly seeds: number;
  readonly ownSeeds: boolean;
}

export const MOST_SEEDS = 100_000;
/** Most points that a study has. */
const MOST_POINTS = 1_000_000;
const MOST_RUNS = 100_000_000;

function tooMany(count: number, most: number, what: string): { problem: string; hint: string } {
  return {
    problem: `That would be ${count.toLocaleString('en-GB')} ${what}; at most ${most.toLocaleString('en-GB')} go in one study.`,
    hint: 'Take fewer values, points or seeds.',
  };
}

/** A design, or why there is none. */
export function makeDesign(
  wish: DesignWish,
): { readonly design: Design } | { readonly problem: string; readonly hint?: string } {
  const { method, factors, isLeftOut } = wish;
  const problem = problemOf(wish);
  if (problem) return problem;
  const common = {
    seeds: Array.from({ length: wish.seeds }, (_, i) => i + 1),
    ...(wish.ownSeeds ? { ownSeeds: true } : {}),
  };
  if (method === 'scenarios') return scenarioDesign(wish, common);
  const listed = factors.map((factor): Factor =>
    'values' in factor ? factor : { parameter: factor.parameter, values: [] },
  );
  if (method === 'every combination' && !isLeftOut)
    return { design: { is: 'every combination', factors: listed, ...common } };
  const rows = rowsOf(wish, listed);
  const { points, places } = distinct(rows.filter((row) => !isLeftOut?.(row)));
  if (points.length === 0) return { problem: 'All points are left out.', hint: 'Change the condition, or the values.' };
  // Rows that come twice count twice where indices are worked out.
  const sample = isSampled(method) ? { rows: places, sample: { count: wish.count, luck: wish.luck } } : {};
  return { design: { is: 'listed', method, factors: listed, points, ...sample, ...common } };
}

function problemOf({
  method,
  count,
  factors,
  isLeftOut,
  seeds,
}: DesignWish): { problem: string; hint?: string } | undefined {
  if (isSampled(method) && factors.length === 0)
    return { problem: `“${method}” draws points, but nothing is varied.`, hint: 'Write “vary bite 0.1 to 0.3”.' };
  if (isSampled(method) && count < 1) return { problem: `“${method}” needs a number of points of 1 or more.` };
  const dimensions = factors.length * (method === 'sobol indices' ? 2 : 1);
  if ((method === 'sobol sequence' || method === 'sobol indices') && dimensions > MOST_DIMENSIONS)
    return {
      problem: `“${method}” takes ${MOST_DIMENSIONS / (dimensions / factors.length)} factors at most, not ${factors.length}.`,
      hint: 'Take “latin hypercube of 1000”, or “elementary effects, 20 paths” to find those that matter.',
    };
  if (isLeftOut && (method === 'elementary effects' || method === 'sobol indices'))
    return {
      problem: `“${method}” needs all its points; none can be left out.`,
      hint: 'Take “latin hypercube of 1000”.',
    };
  const points = pointsOf(method, count, factors);
  if (points > MOST_POINTS) return tooMany(points, MOST_POINTS, 'points');
  if (points * seeds > MOST_RUNS) return tooMany(points * seeds, MOST_RUNS, 'runs');
  return undefined;
}

function pointsOf(method: DesignMethod, count: number, factors: readonly VariedFactor[]): number {
  if (method === 'every combination') return combinationCount(factors.filter((factor) => 'values' in factor));
  if (method === 'elementary effects') return count * (factors.length + 1);
  if (method === 'sobol indices') return count * (factors.length + 2);
  return count;
}

/** The rows of a design, in its order; some may come twice. */
function rowsOf({ method, count, luck, factors, base }: DesignWish, listed: readonly Factor[]): number[][] {
  if (method === 'every combination')
    return Array.from({ length: combinationCount(listed) }, (_, i) => combinationAt(listed, i));
  if (method === 'one at a time') {
    const middle = listed.map(({ parameter }) => base(parameter));
    return [
      middle,
      ...listed.flatMap(({ values }, f) => values.map((value) => middle.map((x, i) => (i === f ? value : x)))),
    ];
  }
  return levelsOf(method, count, factors.length, luck).map((row) =>
    row.map((level, f) => {
      const factor = factors[f]!;
      return tidy(
        'spread' in factor
          ? spreadQuantile(factor.spread, level)
          : spreadQuantile({ is: 'values', values: factor.values }, level),
      );
    }),
  );
}

/** Levels from 0 to 1 of the rows of a sampled design; the same for the same numbers, so that analyses find them again. */
export function levelsOf(method: DesignMethod, count: number, factors: number, luck: number): Levels {
  switch (method) {
    case 'latin hypercube':
      return latinHypercube(count, factors, luck);
    case 'sobol sequence':
      return sobolLevels(count, factors, luck);
    case 'elementary effects':
      return effectPaths(count, factors, luck);
    case 'sobol indices':
      return indexLevels(count, factors, luck);
    default:
      return randomLevels(count, factors, luck);
  }
}

/** Takes off the dust of binary fractions, so that what is written reads back as the same number. */
function tidy(value: number): number {
  return Number(value.toPrecision(12));
}

/** Each row once, in the order in which they come first, and the place of every row among them. */
function distinct(rows: readonly number[][]): { points: number[][]; places: number[] } {
  const known = new Map<string, number>();
  const points: number[][] = [];
  const places = rows.map((row) => {
    const key = row.join(';');
    let place = known.get(key);
    if (place === undefined) {
      known.set(key, (place = points.length));
      points.push(row);
    }
    return place;
  });
  return { points, places };
}

function scenarioDesign(
  { scenarios, base }: DesignWish,
  common: Pick<ListedDesign, 'seeds' | 'ownSeeds'>,
): { design: Design } | { problem: string; hint?: string } {
  const names = [...new Set(scenarios.flatMap(({ values }) => [...values.keys()]))];
  const points = scenarios.map(({ values }) => names.map((name) => values.get(name) ?? base(name)));
  const timelines = scenarios.map(({ timeline }) => timeline.join('\n'));
  const keys = points.map((point, place) => `${point.join(';')};${timelines[place]}`);
  const twice = keys.findIndex((key, i) => keys.indexOf(key) < i);
  if (twice >= 0)
    return {
      problem: `The scenarios “${scenarios[keys.indexOf(keys[twice]!)]!.name}” and “${scenarios[twice]!.name}” have the same values and lines.`,
      hint: 'Change a value in one of them, or leave it out.',
    };
  const factors = names.map((parameter) => ({ parameter, values: [] }));
  return {
    design: {
      is: 'listed',
      method: 'scenarios',
      factors,
      points,
      names: scenarios.map(({ name }) => name),
      ...(timelines.some((lines) => lines !== '') ? { timelines } : {}),
      ...common,
    },
  };
}
