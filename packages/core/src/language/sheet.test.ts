import { describe, expect, it } from 'vitest';
import { cellNumber, SheetProblem, sheetRows } from './sheet.ts';

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

  it.each([
    ['a,b\n1,2', ['1', '2']],
    ['a;b\n1,5;2', ['1,5', '2']],
    ['a\tb\n1, 2\t3', ['1, 2', '3']],
    ['a|b\n1|2', ['1', '2']],
    ['a;b;c\n"1;2";3;4\n5;6;7', ['1;2', '3', '4']],
    ['a\n1.5', ['1.5']],
    ['a,b\r\n1,2\r\n', ['1', '2']],
    ['\uFEFFa,b\n"say ""hi""",2', ['say "hi"', '2']],
    ['name,where\n"Mill; old",north', ['Mill; old', 'north']],
    ['a,b\n1,2\n3', ['1', '2']],
  ])('find out what parts the cells of %j', (text, cells) => {
    const [header, first] = sheetRows(text);
    expect(header!.cells.length).toBe(cells.length);
    expect(header!.cells[0]).not.toContain('\uFEFF');
    expect(first!.cells).toEqual(cells);
  });
});

describe('quotation marks', () => {
  it.each<[string, number, RegExp]>([
    ['a,b\n1,"2\n3,4\n', 2, /opens a cell, and none closes it/],
    ['# made up\n\na;b\n"x\ny";"2""', 5, /opens a cell, and none closes it/],
    ['"', 1, /opens a cell, and none closes it/],
    ['a,b\r\n1,"2"3\r\n4,5', 2, /goes on with “3” after the quotation mark/],
    ['a,b\n"north" ,2\n', 2, /goes on with “ ” after the quotation mark/],
    ['a,b\r"x\ry" z,2\r', 3, /goes on with “ ” after the quotation mark/],
  ])('by which cells of %j would be lost are refused with their line', (text, line, why) => {
    const refused = (() => {
      try {
        return sheetRows(text);
      } catch (error) {
        return error;
      }
    })();
    expect(refused).toBeInstanceOf(SheetProblem);
    expect(refused).toMatchObject({ line, message: expect.stringMatching(why) as unknown });
  });

  it.each<[string, string[]]>([
    ['a,b\n1,""', ['1', '']],
    ['a,b\n"x ""y""","2"\n', ['x "y"', '2']],
    ['a,b\n5" pipe,"2,3"\r\n', ['5" pipe', '2,3']],
    ['a,b\n1,2\n# "not a cell\n', ['1', '2']],
  ])('that close are read in %j', (text, cells) => expect(sheetRows(text)[1]?.cells ?? []).toEqual(cells));
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
