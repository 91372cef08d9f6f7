import type { Bands } from '@vole/core';
import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { bandsTable, courseUnit, tableOfBands } from './bands-table.ts';
import { drawnPoints, MOST_CIRCLES } from './observed-points.ts';

const { plan } = loadModel(`model Days
clock
  step 2 days
  end after 10 steps
agent Vole
  start 3
  has wait = 4 days
measure n = count Vole
measure waited in hours = mean of it.wait over Vole
`).loaded!;

const numbers = (...values: number[]): Float64Array => Float64Array.from(values);
const bands = {
  steps: [0, 5],
  low90: numbers(1, 2),
  low50: numbers(3, 4),
  median: numbers(5, 6),
  high50: numbers(7, 8),
  high90: numbers(9, 10),
} as unknown as Bands;

describe('tables of charts', () => {
  it('have the time of each step in the unit of the clock, and the unit of the measure in their headings', () => {
    const [heads, first, second] = tableOfBands(plan, courseUnit(plan, { of: [1], form: 'value' } as never), bands);
    expect(heads!.slice(0, 4)).toEqual(['step', 'time [days]', 'low90 [hours]', 'low50 [hours]']);
    expect(first).toEqual([0, 0, 1, 3, 5, 7, 9]);
    expect(second).toEqual([5, 10, 2, 4, 6, 8, 10]);
    expect(tableOfBands(plan, '')).toEqual([['step', 'time [days]', 'low90', 'low50', 'median', 'high50', 'high90']]);
  });

  it('of shares have no unit', () => {
    expect(courseUnit(plan, { of: [1], form: 'share' } as never)).toBe('');
    expect(courseUnit(plan, { of: [9], form: 'value' } as never)).toBe('');
  });

  it('of several groups name the group in each row', () => {
    const table = bandsTable(plan, { of: [0], form: 'value' } as never, 'scenario', [
      { name: 'fewer', bands },
      { name: 'more', bands },
    ]);
    expect(table.map(([name]) => name)).toEqual(['scenario', 'fewer', 'fewer', 'more', 'more']);
    expect(table[0]!.length).toBe(8);
  });
});

describe('many observed values', () => {
  it('are drawn as far as they can be told apart, the highest and lowest among them', () => {
    const few = Array.from({ length: MOST_CIRCLES }, (_, time) => ({ time, value: time }));
    expect(drawnPoints(few)).toBe(few);
    const many = Array.from({ length: 20_000 }, (_, time) => ({
      time,
      value: time === 7777 ? 99 : time === 123 ? -99 : 0,
    }));
    const drawn = drawnPoints(many);
    expect(drawn.length).toBeLessThanOrEqual(MOST_CIRCLES);
    expect(drawn.map(({ value }) => value)).toEqual(expect.arrayContaining([99, -99]));
    expect(drawn.every(({ time }, i) => i === 0 || time > drawn[i - 1]!.time)).toBe(true);
  });
});
