import { describe, expect, it } from 'vitest';
import { readFilter } from './table-filter.ts';

const COLUMNS = [
  { name: 'energy', value: (row: number) => [0.5, 1.5, 2.5][row]! },
  { name: 'life', options: ['Pup', 'Adult'], value: (row: number) => [0, 1, 1][row]! },
];
const rows = (words: string): number[] => [0, 1, 2].filter(readFilter(words, COLUMNS).fits);

describe('conditions on the rows of a table', () => {
  it('compare numbers and choices, joined by and', () => {
    expect(rows('')).toEqual([0, 1, 2]);
    expect(rows('energy > 1')).toEqual([1, 2]);
    expect(rows('Energy >= 1.5 and life is adult')).toEqual([1, 2]);
    expect(rows('life is not Pup and energy < 2')).toEqual([1]);
    expect(rows('energy <= 0.5')).toEqual([0]);
  });

  it('say what they do not understand', () => {
    for (const [words, piece] of [
      ['energy', 'no condition'],
      ['size > 1', 'no column'],
      ['life is Old', 'no value'],
    ] as const) {
      expect(readFilter(words, COLUMNS).problem).toContain(piece);
      expect(rows(words)).toEqual([0, 1, 2]);
    }
  });
});
