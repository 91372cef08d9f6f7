import { describe, expect, it } from 'vitest';
import type { Spread } from '../../design/spread.ts';
import { binsOf, findingsOf, pairsOf } from './findings.ts';
import type { Posterior } from './match-search.ts';

const UNIFORM: Spread = { is: 'uniform', low: 0, high: 10 };

function posteriorOf(draws: readonly (readonly number[])[], weights = draws.map(() => 1 / draws.length)): Posterior {
  return {
    parameters: draws[0]!.map((_, i) => `p${i}`),
    draws,
    weights,
    effective: draws.length,
    isAdjusted: false,
    best: draws[0]!,
    method: 'sequential monte carlo',
    tolerance: 1,
    rounds: 1,
    accepted: 0.5,
  };
}

const even = (low: number, high: number): number[][] =>
  Array.from({ length: 200 }, (_, i) => [low + ((i + 0.5) / 200) * (high - low)]);

describe('what a posterior tells', () => {
  it('of an unknown that the data fix: its middle nine tenths, and how much narrower they are', () => {
    const [found] = findingsOf(posteriorOf(even(4, 5)), [UNIFORM]);
    expect(found).toMatchObject({ parameter: 'p0', priorLow: 0.5, priorHigh: 9.5 });
    expect(found!.median).toBeCloseTo(4.5, 1);
    expect(found!.high - found!.low).toBeCloseTo(0.9, 1);
    expect(found!.narrowing).toBeCloseTo(0.9, 2);
    expect(found!.end).toBeUndefined();
  });

  it('of one that they say nothing about, and of one that heaps at an end of its prior', () => {
    expect(findingsOf(posteriorOf(even(0, 10)), [UNIFORM])[0]!.narrowing).toBeCloseTo(0, 2);
    expect(findingsOf(posteriorOf(even(9, 10)), [UNIFORM])[0]!.end).toBe('high');
    expect(findingsOf(posteriorOf(even(0, 1)), [UNIFORM])[0]!.end).toBe('low');
    expect(findingsOf(posteriorOf(even(8, 9)), [UNIFORM])[0]!.end).toBeUndefined();
  });

  it('by weights', () => {
    const weighted = posteriorOf([[1], [5], [9]], [0.04, 0.9, 0.06]);
    expect(findingsOf(weighted, [UNIFORM])[0]).toMatchObject({ low: 5, median: 5, high: 9 });
  });

  it('of a prior with one value only, without dividing by nought', () => {
    const values: Spread = { is: 'values', values: [3] };
    expect(findingsOf(posteriorOf([[3], [3]]), [values])[0]!.narrowing).toBe(0);
  });

  it('of pairs: how they hang together, by weights, and nothing where one does not vary', () => {
    const ridge = posteriorOf(even(0, 10).map(([x]) => [x!, 10 - x!, 4]));
    expect(pairsOf(ridge).map(({ first, second }) => [first, second])).toEqual([
      [0, 1],
      [0, 2],
      [1, 2],
    ]);
    expect(pairsOf(ridge).map(({ correlation }) => Number(correlation.toFixed(9)))).toEqual([-1, 0, 0]);
    const heavy = posteriorOf(
      [
        [0, 0],
        [1, 1],
        [0, 1],
        [1, 0],
      ],
      [0.4, 0.4, 0.1, 0.1],
    );
    expect(pairsOf(heavy)[0]!.correlation).toBeCloseTo(0.6, 10);
  });

  it('in bins, both of which hold all there is', () => {
    const { edges, posterior, prior } = binsOf(posteriorOf(even(4, 5)), 0, UNIFORM);
    expect(edges).toHaveLength(posterior.length + 1);
    for (const shares of [posterior, prior]) expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 1);
    expect(Math.max(...posterior)).toBeGreaterThan(5 * Math.max(...prior));
    expect(binsOf(posteriorOf([[3], [3]]), 0, { is: 'values', values: [3] }).posterior[0]).toBe(1);
  });
});
