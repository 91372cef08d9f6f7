import { describe, expect, it } from 'vitest';
import { meanOfMeans } from '../statistics/intervals.ts';
import { factorialEffects } from './factorial-effects.ts';

/** A small generator of its own, so that the tests know what they draw. */
function drawing(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 16807) % 2147483647) / 2147483647 - 0.5;
}

/** Values of a grid of 3 by 4 points with 30 seeds. */
function grid(of: (a: number, b: number) => number, noise: number, ofSeed = 0): number[][] {
  const draw = drawing(7);
  const bySeed = Array.from({ length: 30 }, () => ofSeed * draw());
  return Array.from({ length: 12 }, (_, point) =>
    bySeed.map((luck) => of(Math.floor(point / 4), point % 4) + noise * draw() + luck),
  );
}
const sharesOf = (values: number[][], shared = true): number[] =>
  factorialEffects(values, [3, 4], shared)!.map(({ share }) => share.value);

describe('main effects and interactions', () => {
  it('are those of an analysis of variance worked out by hand', () => {
    // Cells 1 3 / 2 8: mean 3.5, effects of a -1.5 1.5, of b -2 2, together 1 -1 -1 1: squares 2.25, 4, 1 of 7.25.
    const cells = [1, 3, 2, 8].map((x) => [x, x, x]);
    const effects = factorialEffects(cells, [2, 2], true)!;
    expect(effects.map(({ factors }) => factors)).toEqual([[0], [1], [0, 1]]);
    [2.25 / 7.25, 4 / 7.25, 1 / 7.25].forEach((wanted, i) => expect(effects[i]!.share.value).toBeCloseTo(wanted, 12));
    expect(effects[0]!.share.low).toBeCloseTo(2.25 / 7.25, 12);
  });

  it('find no interaction where effects add up, in spite of luck', () => {
    const [a, b, both] = factorialEffects(
      grid((a, b) => 2 * a + b, 3),
      [3, 4],
      true,
    )!;
    expect(a!.share.value + b!.share.value + both!.share.value).toBeCloseTo(1, 10);
    expect(both!.share.low).toBeLessThan(0.005);
    expect(Math.abs(both!.share.value)).toBeLessThan(0.02);
    // Variance of 2a over three levels 8/3, of b over four 5/4.
    expect(a!.share.value).toBeCloseTo(8 / 3 / (8 / 3 + 5 / 4), 1);
  });

  it('find what two factors do only together', () => {
    const [a, b, both] = sharesOf(grid((a, b) => (a - 1) * (b - 1.5), 0.5));
    expect(Math.abs(a!)).toBeLessThan(0.05);
    expect(Math.abs(b!)).toBeLessThan(0.05);
    expect(both!).toBeGreaterThan(0.9);
  });

  it('take off what a seed does at all points alike, if points share their seeds', () => {
    const values = grid((a, b) => a + b / 10, 0.1, 40);
    const [shared] = factorialEffects(values, [3, 4], true)!;
    expect(shared!.share.value).toBeCloseTo(2 / 3 / (2 / 3 + 0.0125), 1);
    // Taken as independent, the luck of the seeds hides the effect.
    expect(factorialEffects(values, [3, 4], false)).toBeUndefined();
  });

  it('say nothing where there is nothing but luck, and go on without empty values', () => {
    expect(
      factorialEffects(
        grid(() => 5, 0),
        [3, 4],
        true,
      ),
    ).toBeUndefined();
    const values = grid((a) => a, 0.1);
    values[3]![2] = NaN;
    expect(sharesOf(values)[0]).toBeCloseTo(1, 1);
  });
});

describe('the mean of points', () => {
  it('counts each point alike, and knows shared seeds', () => {
    const points = [
      [1, 2, 3, 4],
      [11, 12, 13, 14],
    ];
    // By seed 6, 7, 8, 9: mean 7.5, sd 1.291, Student 2.353 with 3 degrees.
    const shared = meanOfMeans(points, true);
    expect(shared).toMatchObject({ value: 7.5, runs: 8 });
    expect(shared.high - shared.value).toBeCloseTo((2.3533634 * 1.2909944) / 2, 5);
    // Apart: pooled variance 1.6667, half of it over 4 each and both: sqrt(1.6667 * 0.5) / 2, Student 1.943 with 6 degrees.
    const apart = meanOfMeans(points, false);
    expect(apart.value - apart.low).toBeCloseTo((1.9431803 * Math.sqrt((5 / 3) * 0.5)) / 2, 5);
    expect(
      meanOfMeans(
        [
          [1, 1, 1],
          [4, undefined, NaN],
        ],
        true,
      ).value,
    ).toBe(2.5);
    expect(meanOfMeans([[1], [3]], false)).toMatchObject({ value: 2, low: -Infinity, high: Infinity });
    expect(meanOfMeans([[NaN], []], true)).toMatchObject({ value: NaN, runs: 0 });
  });
});
