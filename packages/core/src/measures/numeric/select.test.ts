import { describe, expect, it } from 'vitest';
import { placeInOrder } from './select.ts';

describe('values that are put in order at some places only', () => {
  const laws: Record<string, (i: number, n: number) => number> = {
    'in order': (i) => i,
    'in reverse': (i, n) => n - i,
    'all the same': () => 7,
    'of three kinds': (i) => (i * 7) % 3,
    shuffled: (i, n) => (i * 7919) % (n + 1),
    endless: (i) => (i % 5 === 0 ? Infinity : i % 7 === 0 ? -Infinity : (i * 31) % 101),
  };
  it.each(Object.entries(laws))('%s, are there what a sorted array has there', (_, law) => {
    for (const n of [1, 2, 31, 33, 100, 1000, 5000]) {
      const values = Float64Array.from({ length: n }, (__, i) => law(i, n));
      const sorted = values.slice().sort();
      const places = [...new Set([0, 0.05, 0.25, 0.5, 0.95, 1].map((level) => Math.floor((n - 1) * level)))];
      placeInOrder(values, places);
      expect(places.map((place) => values[place])).toEqual(places.map((place) => sorted[place]));
      expect(values.sort()).toEqual(sorted);
    }
  });
  it('may be none, at no place', () => {
    const none = new Float64Array(0);
    placeInOrder(none, []);
    expect(none).toHaveLength(0);
  });
});
