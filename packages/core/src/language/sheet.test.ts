import { describe, expect, it } from 'vitest';
import { cellNumber, sheetRows } from './sheet.ts';

describe('rows of a table', () => {
  it('know the line on which they stand, remarks, empty lines and quoted line breaks counted', () => {
    const text = '# made up\n\na;b\n1;2\n# in between, with a "quote\n\n3;"two\nlines"\n4;5\n';
    expect(sheetRows(text)).toEqual([
      { cells: ['a', 'b'], line: 3 },
      { cells: ['1', '2'], line: 4 },
      { cells: ['3', 'two\nlines'], line: 7 },
      { cells: ['4', '5'], line: 9 },
    ]);
    expect(sheetRows('')).toEqual([]);
  });
});

describe('the number in a cell', () => {
  it.each<[string, number]>([
    ['3', 3],
    [' -0.5 ', -0.5],
    ['1e3', 1000],
    ['.5', 0.5],
    ['5.', 5],
    ['+2', 2],
  ])('is read from “%s”', (cell, value) => expect(cellNumber(cell)).toBe(value));
  it.each(['', '0x12c', '1,5', 'Infinity', '1e999', '0b1', '12 voles', 'NaN', '--1'])('is not in “%s”', (cell) =>
    expect(cellNumber(cell)).toBeUndefined(),
  );
});
