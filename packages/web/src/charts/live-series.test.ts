import { describe, expect, it } from 'vitest';
import { peakOf, seriesOf } from './live-series.ts';

const ROWS = [1, 3, 2, 2, 4, 0];

describe('series of a live run', () => {
  it('come as measured, summed up, as change and as share', () => {
    expect(seriesOf(ROWS, 2, [0, 1], 'as measured')).toEqual([[1, 2, 4], [3, 2, 0]]);
    expect(seriesOf(ROWS, 2, [0], 'summed up')).toEqual([[1, 3, 7]]);
    expect(seriesOf(ROWS, 2, [1], 'change per step')).toEqual([[NaN, -1, -2]]);
    expect(seriesOf(ROWS, 2, [0, 1], 'share')).toEqual([[0.25, 0.5, 1], [0.75, 0.5, 0]]);
    expect(seriesOf([], 2, [0], 'as measured')).toEqual([[]]);
  });

  it('have their peak at the first of the highest', () => {
    expect(peakOf([NaN, 2, 5, 5, 1])).toBe(2);
    expect(peakOf([NaN])).toBeUndefined();
  });
});
