import { describe, expect, it } from 'vitest';
import type { MatchedSeries } from './agreement.ts';
import { distributionDistance, distributionsOf, patternIn, patternsOf, scoresOfSeries } from './agreement.ts';
import { drawsOf, ensembleOf, quantilesCounted, rankedScore } from './ensemble.ts';
import { written } from './observing.ts';
import type { ObservingError } from './observing.ts';

const at = (values: readonly number[]) => ({
  values: Float64Array.from(values),
  runs: Int32Array.from(values, (_, i) => i),
});
const ones = (n: number) => new Array<number>(n).fill(1);
const series = (
  observed: readonly number[],
  runs: readonly (readonly number[])[],
  more: Partial<MatchedSeries> = {},
): MatchedSeries => ({
  observations: observed.map((value, i) => ({ time: 10 * (i + 1), since: 10 * i, value })),
  exact: runs.map((run) => Float64Array.from(run)),
  seeds: runs.map((_, i) => i + 1),
  error: { is: 'none' },
  series: 0,
  ...more,
});
const NONE: ObservingError = { is: 'none' };

describe('the ranked probability score', () => {
  it('of one value is the distance, of two with the observed one between them by hand', () => {
    expect(rankedScore(at([7]), ones(1), 4)).toBe(3);
    // Mean distance (1 + 3) / 2 less half the mean distance of pairs (0 + 4 + 4 + 0) / 4.
    expect(rankedScore(at([3, 7]), ones(2), 4)).toBeCloseTo(2 - 1, 12);
  });
  it('counts a run as often as it is drawn', () =>
    expect(rankedScore(at([1, 5, 9]), [2, 0, 1], 4)).toBeCloseTo(rankedScore(at([1, 1, 9]), ones(3), 4), 12));
  it('of a normal law nears what is known for it', () => {
    // Gneiting and Raftery (2007): of N(0, 1) against 0 it is sqrt(2 / pi) - 1 / sqrt(pi) = 0.2337.
    const values = Array.from({ length: 4000 }, (_, i) =>
      written(0, { is: 'normal', sd: 1 }, undefined, { seed: i, series: 0, observation: 0, draw: 0 }),
    );
    const sorted = Float64Array.from(values).sort();
    expect(rankedScore(at([...sorted]), ones(4000), 0)).toBeCloseTo(0.2337, 2);
  });
});

it('quantiles are of type 7, also of runs that count several times', () => {
  expect(quantilesCounted(at([1, 2, 3, 4]), ones(4), [0, 0.25, 0.5, 1])).toEqual([1, 1.75, 2.5, 4]);
  expect(quantilesCounted(at([1, 2, 3]), [1, 0, 3], [0.5, 1 / 6])).toEqual(
    quantilesCounted(at([1, 3, 3, 3]), ones(4), [0.5, 1 / 6]),
  );
  expect(quantilesCounted(at([]), [], [0.5])).toEqual([NaN]);
});

describe('errors of observing', () => {
  const many = (error: ObservingError, value: number, sd?: number) =>
    Array.from({ length: 20_000 }, (_, i) =>
      written(value, error, sd, { seed: 1, series: 2, observation: i, draw: 0 }),
    );
  const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
  const variance = (values: readonly number[]) => {
    const middle = mean(values);
    return mean(values.map((x) => (x - middle) ** 2));
  };
  it.each<[ObservingError, number | undefined, number]>([
    [{ is: 'normal', sd: 3 }, undefined, 9],
    [{ is: 'percent', share: 0.12 }, undefined, 36],
    [{ is: 'column' }, 2, 4],
    [{ is: 'poisson' }, undefined, 50],
    [{ is: 'negative binomial', size: 5 }, undefined, 50 + 2500 / 5],
  ])('%j has its mean and its variance', (error, sd, wanted) => {
    const found = many(error, 50, sd);
    expect(mean(found) / 50).toBeCloseTo(1, 1);
    expect(variance(found) / wanted).toBeGreaterThan(0.95);
    expect(variance(found) / wanted).toBeLessThan(1.05);
  });
  it('leave what is empty, and nothing as nothing', () => {
    expect(written(NaN, { is: 'poisson' }, undefined, { seed: 1, series: 0, observation: 0, draw: 0 })).toBeNaN();
    expect(
      written(0, { is: 'negative binomial', size: 2 }, undefined, { seed: 1, series: 0, observation: 0, draw: 0 }),
    ).toBe(0);
    expect(many({ is: 'column' }, 7)[0]).toBe(7);
    expect(drawsOf(NONE, 3)).toBe(1);
    expect(drawsOf({ is: 'poisson' }, 10)).toBe(25);
    expect(drawsOf({ is: 'poisson' }, 5000)).toBe(1);
  });
  it('are the same for the same run, and others for another draw, observation or series', () => {
    const one = (key: Partial<Record<'seed' | 'series' | 'observation' | 'draw', number>>) =>
      written(10, { is: 'normal', sd: 1 }, undefined, { seed: 1, series: 0, observation: 0, draw: 0, ...key });
    expect(one({})).toBe(one({}));
    expect(
      new Set([one({}), one({ seed: 2 }), one({ series: 1 }), one({ observation: 1 }), one({ draw: 1 })]).size,
    ).toBe(5);
  });
});

describe('scores of a series', () => {
  const RUNS = [
    [1, 10, 5],
    [3, 14, 5],
    [5, 12, 5],
  ];
  it('are those reckoned by hand', () => {
    const found = scoresOfSeries(series([4, 12, 9], RUNS), 'used');
    // Medians 3, 12, 5: errors -1, 0, -4.
    expect(found.points).toBe(3);
    expect(found.bias.value).toBeCloseTo(-5 / 3, 12);
    expect(found.meanAbsoluteError.value).toBeCloseTo(5 / 3, 12);
    expect(found.rootMeanSquareError.value).toBeCloseTo(Math.sqrt(17 / 3), 12);
    expect(found.normalisedError.value).toBeCloseTo(Math.sqrt(17 / 3) / (25 / 3), 12);
    // Middle halves 2 to 4, 11 to 13, 5 to 5.
    expect(found.inside50.value).toBeCloseTo(2 / 3, 12);
    const ranked =
      [(3 + 1 + 1) / 3 - (2 * (2 + 4 + 2)) / 18, (2 + 2 + 0) / 3 - (2 * (2 + 4 + 2)) / 18, 4].reduce(
        (a, b) => a + b,
        0,
      ) / 3;
    expect(found.rankedProbabilityScore.value).toBeCloseTo(ranked, 12);
    const plain = (13 / 3 + 11 / 3 + 2 / 3) / 3;
    expect(found.skillAgainstMean.value).toBeCloseTo(1 - ranked / plain, 12);
    expect(found.skillAgainstLast.value).toBeCloseTo(1 - ranked / ((8 + 3) / 2), 12);
    expect(found.ranks).toEqual([0, 0, 0, 0, 0, 1, 1, 0, 0, 1]);
  });

  it('have intervals over the runs that hold the value, and none of one run', () => {
    const many = series(
      [4, 12, 9],
      Array.from({ length: 60 }, (_, i) => [i % 7, 10 + (i % 5), 4 + (i % 3)]),
    );
    const { bias, rankedProbabilityScore } = scoresOfSeries(many, 'used');
    for (const { value, low, high } of [bias, rankedProbabilityScore]) {
      expect(low).toBeLessThanOrEqual(value);
      expect(high).toBeGreaterThanOrEqual(value);
      expect(high - low).toBeGreaterThan(0);
    }
    expect(scoresOfSeries(series([4], [[3]]), 'used').bias).toEqual({ value: -1, low: -Infinity, high: Infinity });
  });

  it('are of each part apart; the plain forecast of what is held out is the mean of what is not', () => {
    const parted = series([4, 6, 20], [[4, 6, 10]], { heldOutFrom: 30 });
    expect(scoresOfSeries(parted, 'used')).toMatchObject({
      points: 2,
      bias: { value: 0 },
      skillAgainstMean: { value: 1 },
    });
    const held = scoresOfSeries(parted, 'held out');
    expect(held).toMatchObject({ points: 1, bias: { value: -10 } });
    expect(held.skillAgainstMean.value).toBeCloseTo(1 - 10 / 15, 12);
  });

  it('leave out observations that the runs do not reach, and say how many', () => {
    const found = scoresOfSeries(
      series(
        [4, 6],
        [
          [4, NaN],
          [5, NaN],
        ],
      ),
      'used',
    );
    expect(found).toMatchObject({ points: 1, outside: 1 });
    const nothing = scoresOfSeries(series([4], [[NaN]]), 'used');
    expect(nothing.points).toBe(0);
    expect(nothing.bias.value).toBeNaN();
  });
});

describe('patterns', () => {
  const times = [0, 1, 2, 3, 4, 5];
  it('are the peak, its time and the growth rate of a series', () => {
    expect(patternIn('peak', times, [1, 2, 9, 4, NaN, 2])).toBe(9);
    expect(patternIn('time of peak', times, [NaN, 2, 9, 4, 3, 2])).toBe(2);
    expect(patternIn('growth rate', [0, 2, 3], [1, 4, 8])).toBeCloseTo(Math.LN2, 12);
    expect(patternIn('growth rate', [0, 2, 3], [0, 0, 8])).toBeNaN();
    expect(patternIn('peak', [0, 1], [1, 2])).toBeNaN();
  });
  it('a period needs times that are evenly spaced', () => {
    const wave = Array.from({ length: 48 }, (_, i) => 10 + 5 * Math.sin((2 * Math.PI * i) / 8));
    const months = wave.map((_, i) => i * 30 + (i % 3));
    expect(patternIn('period', months, wave) / 240).toBeCloseTo(1, 1);
    expect(
      patternIn(
        'period',
        wave.map((_, i) => i * i),
        wave,
      ),
    ).toBeNaN();
  });
  it('stand beside those of the runs at the same times, with the runs that have none counted', () => {
    const [peak, time] = patternsOf(
      series(
        [2, 9, 4],
        [
          [1, 5, 2],
          [1, 2, 11],
          [NaN, NaN, NaN],
        ],
      ),
    );
    expect(peak).toMatchObject({ pattern: 'peak', observed: 9, median: 8, below: 0.5, never: 1 });
    expect(time).toMatchObject({ pattern: 'time of peak', observed: 20, median: 25, never: 1 });
  });
});

describe('distributions at a time', () => {
  it('are as far apart as both measures say', () => {
    expect(distributionDistance(Float64Array.of(1, 2), Float64Array.of(3, 4))).toEqual({ furthest: 1, area: 2 });
    expect(distributionDistance(Float64Array.of(1, 3), Float64Array.of(1, 3))).toEqual({ furthest: 0, area: 0 });
    expect(distributionDistance(Float64Array.of(0, 1), Float64Array.of(0))).toEqual({ furthest: 0.5, area: 0.5 });
  });
  it('are told of times with five replicates', () => {
    const replicates = series([1, 2, 3, 4, 5, 9], [[3, 3, 3, 3, 3, 9]]);
    const observations = replicates.observations.map((each, i) => (i < 5 ? { ...each, time: 10, since: 0 } : each));
    expect(distributionsOf({ ...replicates, observations })).toEqual([
      { time: 10, replicates: 5, furthest: 0.4, area: 1.2 },
    ]);
  });
});

it('an ensemble has every run as often as it is observed, in order, without what is empty', () => {
  const [found] = ensembleOf(
    [Float64Array.of(5), Float64Array.of(NaN), Float64Array.of(2)],
    [1, 2, 3],
    [{ time: 1, since: 0, value: 1 }],
    NONE,
    0,
  );
  expect([...found!.values]).toEqual([2, 5]);
  expect([...found!.runs]).toEqual([2, 0]);
});
