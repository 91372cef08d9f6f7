import { describe, expect, it } from 'vitest';
import { studiedModel } from '../../../test/models.ts';
import { matchOfMapping, quotedName } from './match-writing.ts';
import { readCsv } from './observed-csv.ts';
import { readMatch } from './read-match.ts';
import { lookAtTable } from './table-look.ts';

describe('a table as it looks', () => {
  it('has columns of dates, numbers, words and nothing, with their gaps', () => {
    const { columns, rows, first, notes } = lookAtTable(
      '# counted by ear\nday;voles;species;note\n3.1.2031;1.234,5;vole;\n4.1.2031;NA;owl;\n25.1.2031;7;vole;\n',
    );
    expect([rows, notes]).toEqual([3, ['counted by ear']]);
    expect(columns.map(({ name, holds, gaps }) => [name, holds, gaps])).toEqual([
      ['day', 'dates', 0],
      ['voles', 'numbers', 1],
      ['species', 'words', 0],
      ['note', 'nothing', 3],
    ]);
    expect(columns[0]!.orders).toEqual(['day month year']);
    expect(columns[2]!.words).toEqual(['vole', 'owl']);
    expect(first[1]).toEqual(['4.1.2031', 'NA', 'owl', '']);
  });

  it('has dates that can be read in two ways, and numbers with one odd cell among many', () => {
    const { columns } = lookAtTable(
      `day,voles\n${Array.from({ length: 9 }, (_, i) => `0${i + 1}/02/2031,${i}`).join('\n')}\n10/02/2031,many\n`,
    );
    expect(columns[0]!.orders).toEqual(['day month year', 'month day year']);
    expect(columns[1]!.holds).toBe('numbers');
  });

  it('with a quotation mark that is not closed is refused, so that no row is lost', () =>
    expect(() => lookAtTable('day,voles,note\n10,300,"good\n20,310,bad\n30,320,\n')).toThrow(
      'Line 2: a quotation mark opens a cell, and none closes it.',
    ));

  it('with words by the hundred tells no series apart', () => {
    const { columns } = lookAtTable(`day,name\n${Array.from({ length: 40 }, (_, i) => `${i},vole ${i}`).join('\n')}\n`);
    expect([columns[1]!.holds, columns[1]!.words]).toEqual(['words', []]);
  });
});

describe('the text of a match that is written', () => {
  it('quotes names that are more than one plain word', () => {
    expect(['voles', 'Höhle', 'trapped voles', '2031', 'and', 'a,b'].map(quotedName)).toEqual([
      'voles',
      'Höhle',
      '"trapped voles"',
      '"2031"',
      '"and"',
      '"a,b"',
    ]);
  });

  it('says what the columns of a table held before matches had a text', () => {
    const text = matchOfMapping('counts.csv', {
      timeColumn: 'day of year',
      timeIs: 'time',
      columns: [
        { column: 'seen, by day', measure: 'voles' },
        { column: 'owls', measure: '' },
      ],
    });
    const model = studiedModel(
      'model M\nclock\n  step 1 day\n  end after 9 days\nagent A\n  start 2\nmeasure voles = count A\n',
    );
    const tables = new Map([['counts.csv', readCsv('day of year,"seen, by day",owls\n2,5,1\n4,6,1\n')]]);
    const { match, diagnostics } = readMatch(text, model, tables);
    expect(diagnostics).toEqual([]);
    expect(match!.name).toBe('counts');
    expect(
      match!.series.map(({ name, observations }) => [name, observations.map(({ time, value }) => [time, value])]),
    ).toEqual([
      [
        'voles',
        [
          [2, 5],
          [4, 6],
        ],
      ],
    ]);
  });
});
