import { expect, it } from 'vitest';
import { roundTicks } from './round-ticks.ts';

it('ticks are round, about as many as wanted, and hold the range', () => {
  expect(roundTicks(0, 1050, 4)).toEqual([0, 200, 400, 600, 800, 1000, 1200]);
  expect(roundTicks(0, 0.71, 4)).toEqual([0, 0.2, 0.4, 0.6, 0.8]);
  expect(roundTicks(-58.8, 12, 4)).toEqual([-60, -40, -20, 0, 20]);
  expect(roundTicks(0, 0, 4)).toEqual([0, 1]);
  expect(roundTicks(0, 3, 3)).toEqual([0, 1, 2, 3]);
});
