import { describe, expect, it } from 'vitest';
import { rowFilter } from './row-filter.ts';

const rows = [
  { values: { kestrels: 2, strike: 0.1, peak: 300 }, words: 'kestrels 2 strike 0.1 door shut' },
  { values: { kestrels: 12, strike: 0.1, peak: NaN }, words: 'kestrels 12 strike 0.1 door ajar' },
  { values: { kestrels: 12, strike: 0.4, peak: 20.5 }, words: 'kestrels 12 strike 0.4 door ajar' },
];
const columns = ['kestrels', 'strike', 'peak'] as const;
const passing = (text: string): number[] => {
  const passes = rowFilter(text, columns);
  return rows.flatMap(({ values, words }, i) =>
    passes({ value: (column) => values[columns[column]!], words: () => words }) ? [i] : [],
  );
};

describe('the filter of rows', () => {
  it.each([
    ['', [0, 1, 2]],
    ['kestrels > 8', [1, 2]],
    ['Kestrels is 12 and strike<=0.1', [1]],
    ['strike = 0.4', [2]],
    ['peak >= 20.5', [0, 2]],
    ['peak < 1e6', [0, 2]],
    ['ajar', [1, 2]],
    ['shut and kestrels < 5', [0]],
    ['constructor > 1', []],
    ['kestrels >', []],
  ])('“%s”', (text, wanted) => expect(passing(text)).toEqual(wanted));
});
