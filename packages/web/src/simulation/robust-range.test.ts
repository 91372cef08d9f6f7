import { describe, expect, it } from 'vitest';
import { robustRange } from './robust-range.ts';

describe('the range of a scale of colours', () => {
  it('is that of all values', () => {
    expect(robustRange([3, 1, 2])).toEqual({ low: 1, high: 3, isCut: false });
    expect(robustRange(Array.from({ length: 1000 }, (_, i) => i))).toEqual({ low: 0, high: 999, isCut: false });
    expect(robustRange([5, 5, 5])).toEqual({ low: 5, high: 5, isCut: false });
    expect(robustRange([NaN, 2, 4])).toEqual({ low: 2, high: 4, isCut: false });
  });
  it('leaves out a few outliers that would leave one colour for all others', () => {
    const values = Array.from({ length: 1000 }, (_, i) => (i === 500 ? 1e6 : i % 10));
    expect(robustRange(values)).toEqual({ low: 0, high: 9, isCut: true });
    expect(
      robustRange(Array.from({ length: 100_000 }, (_, i) => (i % 1000 === 7 ? -5000 : (i * 7919) % 101))),
    ).toMatchObject({ isCut: true, high: 99 });
  });
});
