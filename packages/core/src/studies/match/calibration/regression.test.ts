import { describe, expect, it } from 'vitest';
import { drawNormal } from '../../../engine/random/laws.ts';
import { RandomStream } from '../../../engine/random/stream.ts';
import { findingsOf } from './findings.ts';
import type { Tried } from './candidates.ts';
import { adjusted } from './regression.ts';

const luck = RandomStream.of(5, 0, 0);
const normal = (sd = 1): number => drawNormal(0, sd, luck.word(), luck.word());

/** A value with a standard normal prior that so many targets tell of, each with an error as large as its spread. */
function bank(targets: number, count: number): Omit<Tried, 'distance'>[] {
  return Array.from({ length: count }, (_, i) => {
    const place = normal();
    return { place: [place], seed: i, written: Array.from({ length: targets }, () => place + normal()) };
  });
}

function posteriorOf(tried: readonly Omit<Tried, 'distance'>[], observed: readonly number[], draws: number) {
  const near = tried
    .map((each) => ({
      ...each,
      distance: Math.hypot(...each.written.map((value, k) => value - observed[k]!)),
    }))
    .sort((a, b) => a.distance - b.distance)
    .slice(0, draws);
  const weights = near.map(() => 1 / draws);
  return adjusted({ draws: near, weights, tolerance: near.at(-1)!.distance, rounds: 0, accepted: 1 }, observed)!;
}

describe('the regression of draws', () => {
  it.each([
    [2, 100],
    [24, 100],
    [24, 200],
  ])('keeps its word with %i targets and %i draws: hidden values lie inside nine times in ten', (targets, draws) => {
    const tried = bank(targets, 1500);
    const hidden = bank(targets, 300);
    let inside = 0;
    let width = 0;
    for (const { place, written } of hidden) {
      const { places, weights } = posteriorOf(tried, written, draws);
      const [found] = findingsOf(
        {
          parameters: ['p'],
          draws: places,
          weights,
          effective: 1,
          isAdjusted: true,
          best: [0],
          method: 'sequential monte carlo',
          tolerance: 1,
          rounds: 0,
          accepted: 1,
        },
        [{ is: 'uniform', low: 0, high: 1 }],
      );
      if (place[0]! >= found!.low && place[0]! <= found!.high) inside++;
      width += (found!.high - found!.low) / hidden.length;
    }
    expect(inside / hidden.length).toBeGreaterThan(0.84);
    expect(inside / hidden.length).toBeLessThan(0.96);
    // The exact posterior is normal with this standard deviation.
    const exact = 2 * 1.645 * Math.sqrt(1 / (1 + targets));
    expect(width / exact).toBeGreaterThan(0.85);
    expect(width / exact).toBeLessThan(1.35);
  });

  it('is not tried with too few draws for so many targets, nor where all lie equally far', () => {
    const tried = bank(24, 51).map((each) => ({ ...each, distance: 1 }));
    const weights = tried.map(() => 1 / 51);
    const drawn = { draws: tried, weights, tolerance: 1, rounds: 0, accepted: 1 };
    expect(adjusted(drawn, tried[0]!.written)).toBeUndefined();
    const few = {
      ...drawn,
      draws: bank(2, 60).map((each) => ({ ...each, distance: 1 })),
      weights: Array.from({ length: 60 }, () => 1 / 60),
    };
    expect(adjusted(few, [0, 0])).toBeUndefined();
  });

  it('goes on where a target never varies', () => {
    const tried = bank(2, 200).map((each) => ({ ...each, written: [each.written[0]!, 7] }));
    const { places } = posteriorOf(tried, [0, 7], 100);
    expect(places.every(([z]) => Number.isFinite(z))).toBe(true);
  });
});
