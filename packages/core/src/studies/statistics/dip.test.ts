import { describe, expect, it } from 'vitest';
import { keyOfName, RandomStream } from '../../engine/random/stream.ts';
import { dipOf, dipTest } from './dip.ts';

const luck = RandomStream.of(4, 0, keyOfName('dip test'));
const unit = (): number => luck.word() / 4294967296;
const hump = (): number => unit() + unit() + unit();
const many = (count: number, of: (i: number) => number): number[] => Array.from({ length: count }, (_, i) => of(i));

describe('the dip', () => {
  it('has its known values: least for an even grid, a quarter for two single places', () => {
    expect(dipOf(Float64Array.from(many(20, (i) => 3 + 7 * i)))).toBeCloseTo(1 / 40, 12);
    expect(dipOf(Float64Array.from(many(100, (i) => (i < 50 ? 0 : 1))))).toBeCloseTo(0.25, 12);
    // Three tenths on one side: no law of one hump is nearer than half of what stands apart.
    expect(dipOf(Float64Array.from(many(100, (i) => (i < 30 ? 0 : 1))))).toBeCloseTo(0.15, 12);
  });

  it('does not depend on place and scale, nor on the side', () => {
    const values = many(60, (i) => hump() + (i % 2 ? 2 : 0));
    const sorted = Float64Array.from(values).sort();
    const dip = dipOf(sorted);
    expect(dipOf(sorted.map((x) => 5 + 100 * x))).toBeCloseTo(dip, 10);
    expect(dipOf(sorted.map((x) => -x).sort())).toBeCloseTo(dip, 10);
  });

  it('is large with two humps, not with one, and tells an even law as one', () => {
    expect(dipTest(many(80, (i) => hump() + (i % 2 ? 4 : 0)))!.p).toBeLessThan(0.01);
    expect(dipTest(many(80, hump))!.p).toBeGreaterThan(0.2);
    const even = many(40, () => dipTest(many(40, unit))!.p);
    // Of an even law p is even itself.
    expect(even.filter((p) => p < 0.5).length).toBeGreaterThan(10);
    expect(even.filter((p) => p < 0.5).length).toBeLessThan(30);
  });

  it('is not told of few values, the same ones, or nothing; empty ones are left out', () => {
    expect(dipTest(many(9, (i) => i))).toBeUndefined();
    expect(dipTest(many(30, () => 4))).toBeUndefined();
    expect(dipTest([])).toBeUndefined();
    expect(dipTest([...many(20, (i) => i), NaN, NaN])!.dip).toBeCloseTo(1 / 40, 12);
  });

  it('of values in grains sees the humps of their law, not the grains', () => {
    const times = (counts: Record<string, number>): number[] =>
      Object.entries(counts).flatMap(([value, count]) => Array.from({ length: count }, () => Number(value)));
    // One hump, in whole days and in quarters of them.
    expect(dipTest(times({ 2: 12, 3: 146, 4: 42 }))!.p).toBeGreaterThan(0.2);
    expect(dipTest(times({ 0.5: 20, 0.75: 70, 1: 80, 1.25: 30 }))!.p).toBeGreaterThan(0.2);
    // Two of them, also where each is a single value.
    expect(dipTest(times({ 2: 60, 3: 40, 4: 1, 5: 1, 9: 50, 10: 60 }))!.p).toBeLessThan(0.01);
    expect(dipTest(times({ 0: 100, 300: 100 }))!.p).toBeLessThan(0.01);
    expect(dipTest(times({ 0.1: 100, 0.9: 100 }))!.p).toBeLessThan(0.01);
  });
});
