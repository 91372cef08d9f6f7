import { describe, expect, it } from 'vitest';
import { effectPaths, indexLevels, latinHypercube, randomLevels } from '../design/samples.ts';
import { MOST_DIMENSIONS, sobolPoints } from '../design/sobol-sequence.ts';
import { spreadQuantile } from '../design/spread.ts';
import { elementaryEffects } from './elementary-effects.ts';
import { luckShare } from './luck.ts';
import { rankCorrelations, ranksOf } from './rank-correlations.ts';
import { varianceIndices } from './variance-indices.ts';

/** T. Ishigami and T. Homma (1990), with a = 7 and b = 0.1; levels are brought to -pi to pi. */
function ishigami(levels: readonly number[]): number {
  const [x, y, z] = levels.map((level) => Math.PI * (2 * level - 1)) as [number, number, number];
  return Math.sin(x) + 7 * Math.sin(y) ** 2 + 0.1 * z ** 4 * Math.sin(x);
}

/** The g function of I. M. Sobol. */
function gFunction(a: readonly number[]): (levels: readonly number[]) => number {
  return (levels) =>
    levels.reduce((product, level, i) => product * ((Math.abs(4 * level - 2) + a[i]!) / (1 + a[i]!)), 1);
}

/** The function of M. D. Morris (1991), with the coefficients that he gives and 0 for those that he draws. */
function morris(levels: readonly number[]): number {
  const w = levels.map((x, i) => ([2, 4, 6].includes(i) ? 2 * ((1.1 * x) / (x + 0.1) - 0.5) : 2 * (x - 0.5)));
  let y = 0;
  for (let i = 0; i < 10; i++) y += 20 * w[i]!;
  for (let i = 0; i < 6; i++) for (let j = i + 1; j < 6; j++) y -= 15 * w[i]! * w[j]!;
  for (let i = 0; i < 5; i++)
    for (let j = i + 1; j < 5; j++) for (let l = j + 1; l < 5; l++) y -= 10 * w[i]! * w[j]! * w[l]!;
  return y + 5 * w[0]! * w[1]! * w[2]! * w[3]!;
}

describe('designs', () => {
  it('the Sobol sequence begins as published, in two dimensions and more', () => {
    expect(sobolPoints(8, 3)).toEqual([
      [0, 0, 0],
      [0.5, 0.5, 0.5],
      [0.75, 0.25, 0.25],
      [0.25, 0.75, 0.75],
      [0.375, 0.375, 0.625],
      [0.875, 0.875, 0.125],
      [0.625, 0.125, 0.875],
      [0.125, 0.625, 0.375],
    ]);
  });

  it('every dimension of the Sobol sequence has one point in each stretch of a power of two, shifted too', () => {
    for (const shift of [[], Array.from({ length: MOST_DIMENSIONS }, (_, d) => Math.imul(d + 1, 0x9e3779b1))]) {
      const points = sobolPoints(256, MOST_DIMENSIONS, shift);
      for (let d = 0; d < MOST_DIMENSIONS; d++)
        expect(new Set(points.map((point) => Math.floor(point[d]! * 256))).size).toBe(256);
    }
  });

  it('its projections on two dimensions are even: 4096 points meet all 256 cells of 98 in 100 squares, and half of the rest', () => {
    const points = sobolPoints(4096, MOST_DIMENSIONS);
    const sizes: number[] = [];
    for (let d = 1; d < MOST_DIMENSIONS; d++)
      for (let e = 0; e < d; e++)
        sizes.push(new Set(points.map((point) => Math.floor(point[d]! * 16) * 16 + Math.floor(point[e]! * 16))).size);
    expect(sizes.filter((size) => size === 256).length).toBeGreaterThan(0.98 * sizes.length);
    expect(Math.min(...sizes)).toBe(128);
  });

  it('a dimension too many is refused', () => {
    expect(() => sobolPoints(2, MOST_DIMENSIONS + 1)).toThrow(RangeError);
  });

  it('a Latin hypercube has one level in each stretch of each factor, and the same for the same seed', () => {
    const points = latinHypercube(50, 4, 3);
    for (let f = 0; f < 4; f++) expect(new Set(points.map((point) => Math.floor(point[f]! * 50))).size).toBe(50);
    expect(latinHypercube(50, 4, 3)).toEqual(points);
    expect(latinHypercube(50, 4, 4)).not.toEqual(points);
  });

  it('of hypercubes one with far neighbours is taken: further apart than those drawn independently', () => {
    const nearest = (points: readonly (readonly number[])[]): number =>
      Math.min(...points.flatMap((a, i) => points.slice(0, i).map((b) => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!))));
    expect(nearest(latinHypercube(30, 2, 1))).toBeGreaterThan(2 * nearest(randomLevels(30, 2, 1)));
  });

  it('paths change each factor once, by two thirds, and stay between 0 and 1', () => {
    const levels = effectPaths(10, 5, 1);
    expect(levels.length).toBe(60);
    for (let path = 0; path < 60; path += 6) {
      const changed = Array.from({ length: 5 }, (_, i) => {
        const changes = levels[path + i + 1]!.map((level, f) => level - levels[path + i]![f]!);
        const factor = changes.findIndex((change) => change !== 0);
        expect(Math.abs(changes[factor]!)).toBeCloseTo(2 / 3, 12);
        expect(changes.filter((change) => change !== 0).length).toBe(1);
        return factor;
      });
      expect([...changed].sort()).toEqual([0, 1, 2, 3, 4]);
    }
    expect(Math.min(...levels.flat())).toBe(0);
    expect(Math.max(...levels.flat())).toBe(1);
  });

  it('quantiles of spreads are those of their laws', () => {
    const at = (
      law: 'normal' | 'lognormal' | 'gamma' | 'beta' | 'weibull' | 'triangular' | 'exponential',
      ...numbers: number[]
    ) => spreadQuantile({ is: 'law', law, numbers }, 0.95);
    expect(at('normal', 10, 2)).toBeCloseTo(10 + 2 * 1.6448536, 5);
    expect(at('exponential', 3)).toBeCloseTo(3 * Math.log(20), 10);
    // A gamma of shape 1 is exponential; beta(1, 1) is even; a Weibull of shape 1 too is exponential.
    expect(at('gamma', 3, 1)).toBeCloseTo(3 * Math.log(20), 5);
    expect(at('beta', 1, 1)).toBeCloseTo(0.95, 8);
    expect(at('weibull', 3, 1)).toBeCloseTo(3 * Math.log(20), 8);
    expect(at('triangular', 0, 1, 1)).toBeCloseTo(Math.sqrt(0.95), 10);
    expect(spreadQuantile({ is: 'law', law: 'lognormal', numbers: [5, 2] }, 0.5)).toBeCloseTo(
      5 / Math.sqrt(1 + 4 / 25),
      8,
    );
    expect(spreadQuantile({ is: 'whole', low: 2, high: 4 }, 1)).toBe(4);
    expect([0, 0.34, 0.99].map((level) => spreadQuantile({ is: 'whole', low: 2, high: 4 }, level))).toEqual([2, 3, 4]);
    expect(spreadQuantile({ is: 'logarithmic', low: 0.01, high: 100 }, 0.5)).toBeCloseTo(1, 10);
    expect(
      Number.isFinite(at('normal', 0, 1)) &&
        Number.isFinite(spreadQuantile({ is: 'law', law: 'normal', numbers: [0, 1] }, 1)),
    ).toBe(true);
  });
});

describe('sensitivity', () => {
  it('variance indices of the Ishigami function are those of A. Saltelli et al. (2008): S 0.3139, 0.4424, 0; T 0.5576, 0.4424, 0.2437', () => {
    const found = varianceIndices(indexLevels(4096, 3, 1).map(ishigami), 3);
    const wanted = [
      [0.3139, 0.5576],
      [0.4424, 0.4424],
      [0, 0.2437],
    ];
    found.forEach(({ first, total }, f) => {
      expect(Math.abs(first.value - wanted[f]![0]!)).toBeLessThan(0.02);
      expect(Math.abs(total.value - wanted[f]![1]!)).toBeLessThan(0.02);
      expect([first.low < wanted[f]![0]! + 0.02, first.high > wanted[f]![0]! - 0.02]).toEqual([true, true]);
    });
  });

  it('variance indices of the g function are the ones that can be worked out', () => {
    const a = [0, 1, 4.5, 9];
    const parts = a.map((x) => 1 / (3 * (1 + x) ** 2));
    const all = parts.reduce((product, v) => product * (1 + v), 1) - 1;
    const found = varianceIndices(indexLevels(4096, 4, 1).map(gFunction(a)), 4);
    found.forEach(({ first, total }, f) => {
      const others = parts.reduce((product, v, i) => (i === f ? product : product * (1 + v)), 1);
      expect(Math.abs(first.value - parts[f]! / all)).toBeLessThan(0.02);
      expect(Math.abs(total.value - (parts[f]! * others) / all)).toBeLessThan(0.02);
    });
  });

  it('values far from 0 leave variance indices as they are, and rows with empty values are left out', () => {
    const levels = indexLevels(1024, 3, 1);
    const far = varianceIndices(
      levels.map((row) => ishigami(row) + 1e6),
      3,
    );
    const near = varianceIndices(levels.map(ishigami), 3);
    far.forEach(({ first }, f) => expect(first.value).toBeCloseTo(near[f]!.first.value, 6));
    const holes = varianceIndices(
      levels.map((row, i) => (i === 17 ? NaN : ishigami(row))),
      3,
    );
    expect(Math.abs(holes[0]!.total.value - near[0]!.total.value)).toBeLessThan(0.02);
  });

  it('elementary effects of a plane are its slopes, without spread', () => {
    const levels = effectPaths(6, 3, 1);
    const effects = elementaryEffects(
      levels,
      levels.map(([x, y]) => 3 * x! - 5 * y!),
      3,
    );
    expect(effects.map(({ mean, paths }) => [Math.round(mean * 1e9) / 1e9, paths])).toEqual([
      [3, 6],
      [-5, 6],
      [0, 6],
    ]);
    effects.forEach(({ size, mean, spread }) => {
      expect(size.value).toBeCloseTo(Math.abs(mean), 9);
      expect(spread).toBeLessThan(1e-9);
    });
  });

  it('elementary effects of the function of M. D. Morris part its factors into the three groups of his figure 1', () => {
    const levels = effectPaths(40, 20, 1);
    const effects = elementaryEffects(levels, levels.map(morris), 20);
    const sizes = effects.map(({ size }) => size.value);
    // The last ten do not act; 8 to 10 act straight, 1 to 7 together with others or bent.
    expect(Math.max(...sizes.slice(10))).toBeLessThan(1e-9);
    expect(Math.min(...sizes.slice(0, 10))).toBeGreaterThan(25);
    for (const { spread } of effects.slice(7, 10)) expect(spread).toBeLessThan(1e-6);
    for (const { spread } of effects.slice(0, 7)) expect(spread).toBeGreaterThan(10);
  });

  it('rank correlations see a curve that goes one way, and partial ones see through what another factor does', () => {
    const points = randomLevels(300, 3, 5);
    const found = rankCorrelations(
      points,
      points.map(([x, y]) => Math.exp(8 * x!) + 100 * y!),
    );
    expect(found[0]!.rank.value).toBeGreaterThan(0.9);
    expect(found[1]!.partial.value).toBeGreaterThan(found[1]!.rank.value);
    expect(found[2]!.rank.low).toBeLessThan(0);
    expect(found[2]!.rank.high).toBeGreaterThan(0);
    expect(ranksOf([3, 1, 3, 2])).toEqual([3.5, 1, 3.5, 2]);
  });

  it('the rank correlation of a table of C. Spearman’s kind is the textbook one', () => {
    // M. G. Kendall, Rank Correlation Methods (1970), ch. 1: ranks 7 4 3 10 6 2 9 8 1 5 and 5 7 3 10 1 9 6 2 8 4.
    const a = [7, 4, 3, 10, 6, 2, 9, 8, 1, 5];
    const b = [5, 7, 3, 10, 1, 9, 6, 2, 8, 4];
    const squares = a.reduce((sum, x, i) => sum + (x - b[i]!) ** 2, 0);
    expect(
      rankCorrelations(
        a.map((x) => [x]),
        b,
      )[0]!.rank.value,
    ).toBeCloseTo(1 - (6 * squares) / (10 * 99), 10);
  });

  it('of one or two points, or points that are all the same, nothing is told', () => {
    expect(rankCorrelations([[1]], [3])[0]!.rank.value).toBeNaN();
    expect(rankCorrelations([[1], [2]], [3, 4])[0]!.partial.value).toBeNaN();
    const same = rankCorrelations([[1], [1], [1], [1]], [3, 4, 5, 6])[0]!;
    expect([same.rank.value, same.partial.value]).toEqual([NaN, NaN]);
    expect(varianceIndices([1, 2, 3], 1)[0]!.first.low).toBe(-Infinity);
    expect(elementaryEffects([[0], [2 / 3]], [NaN, 1], 1)[0]!.paths).toBe(0);
  });

  it('the share of luck is that of runs within points', () => {
    expect(
      luckShare([
        [1, 1],
        [3, 3],
      ]).share,
    ).toBe(0);
    expect(
      luckShare([
        [1, 3],
        [1, 3],
      ]).share,
    ).toBe(1);
    const few = luckShare([
      [1, 3, NaN],
      [11, 13],
      [NaN, 2],
    ]);
    expect(few.points).toBe(2);
    // Within 2; between 50 - 2 / 2 = 49.
    expect(few.share).toBeCloseTo(2 / 51, 12);
    expect(luckShare([[1, 2]]).share).toBeNaN();
  });
});
