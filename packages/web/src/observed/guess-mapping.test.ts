import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readCsv } from '@vole/core';
import { guessMapping } from './guess-mapping.ts';

const COUNTS = readFileSync(new URL('../../../../examples/meadow-year-trap-counts.csv', import.meta.url), 'utf8');

describe('observed data as CSV', () => {
  it('reads the demo, notes, gap and all', () => {
    const table = readCsv(COUNTS);
    expect(table.header).toEqual(['date', 'voles']);
    expect(table.notes[0]).toContain('Made-up data');
    expect(table.rows).toHaveLength(24);
    expect(guessMapping(table, ['voles', 'nests'], true)).toEqual({
      timeColumn: 'date',
      timeIs: 'date',
      columns: [{ column: 'voles', measure: 'voles' }],
    });
  });
  it('guesses times without a calendar, and semicolons', () => {
    const table = readCsv('day;count\n1;5\n2;6\n');
    expect(guessMapping(table, ['voles'], false)).toEqual({
      timeColumn: 'day',
      timeIs: 'time',
      columns: [{ column: 'count', measure: '' }],
    });
  });
  it('ties no column to a measure that does not bear its name', () => {
    expect(guessMapping(readCsv('day,owls,weight\n1,5,2\n'), ['voles', 'nests'], false).columns).toEqual([
      { column: 'owls', measure: '' },
    ]);
  });
  it.each<[string, string, RegExp]>([
    ['nothing', '', /no table/],
    ['one column', 'voles\n3\n', /one column only/],
    ['no names', '1,2\n3,4\n', /names of the columns/],
    ['two columns of one name', 'day,voles,voles\n1,2,3\n', /Two columns have the name “voles”/],
    ['no rows', 'a,b\n', /no rows/],
    ['a picture', 'PNG\0\0', /no text file/],
  ])('refuses %s', (_, text, said) => expect(() => readCsv(text)).toThrow(said));
});
