import { describe, expect, it } from 'vitest';
import { checkModel } from './checker.ts';
import { rasterText } from '../raster-text.ts';
import { filesWanted } from './data.ts';
import { treeOf } from './parser.ts';

const BASE = `model Files
parameter size = 2 m
space Field: plane 20 m by 10 m, wrapping
`;
const VOLES = `${BASE}agent Vole
  start from "voles.csv"
  has weight = 20
  has reach = 2 m
  has tame = no
  has coat = brown of brown, grey
  has mother: Vole = nobody
  has seen: last 3 numbers
  states life
    Pup
    Adult
`;
const TIES = `model Ties
agent Vole
  start 4
network Kin ties Vole to Vole: from "kin.csv"
  has trust = 1
`;
const RASTER = `${BASE}field grass on Field, cells of 5 m
  start from "grass.asc"
`;

/** What is found about the files of a model, with the word of the text that it is said about. */
function findings(text: string, files: Record<string, string>): string[] {
  return checkModel(text, new Map(Object.entries(files)))
    .diagnostics.filter((d) => /^file\//.test(d.code))
    .map((d) => `${text.slice(d.span.start, d.span.end)}: ${d.message}`);
}

function tableOf(csv: string) {
  const { model } = checkModel(VOLES, new Map([['voles.csv', csv]]));
  const table = [...model!.tables.values()][0]!;
  return { rows: table.rows, columns: Object.fromEntries(table.columns) };
}

describe('a table of agents', () => {
  it('gives attributes by their types, in the unit in which they are stated, states by their words, and places', () => {
    expect(
      tableOf('x,y,weight,reach,tame,coat,mother,life\n1,2,18.5,3,yes,grey,,Adult\n4,5,22,1,no,Brown,1,pup\n'),
    ).toEqual({
      rows: 2,
      columns: {
        x: [1, 4],
        y: [2, 5],
        weight: [18.5, 22],
        reach: [3, 1],
        tame: [1, 0],
        coat: [1, 0],
        mother: [0, 1],
        life: [1, 0],
      },
    });
  });

  it('may begin with remarks, have empty lines, blanks, other line ends, quotes and a byte order mark', () => {
    const plain = tableOf('x,y,weight\n1,2,3\n4,5,6\n');
    for (const csv of [
      '# made up\n# by hand\nx,y,weight\n\n1,2,3\n# and so on\n4,5,6',
      'x , y , weight\r\n1, 2 ,3\r\n4,5,6\r\n',
      '\uFEFFx,y,weight\n1,2,3\n4,5,6\n',
      '# made up, by hand;\n\n# a,"b\nx;y;weight\n1;2;3\n4;5;6\n',
      '"x","y","weight"\n"1","2","3"\n4,5,6\n,,\n',
    ]) {
      expect(tableOf(csv), csv).toEqual(plain);
    }
  });

  it.each<[string, string, string]>([
    ['is not there', '', '“voles.csv” is not there'],
    ['is empty', '# only a remark\n\n', 'line 1: the file is empty'],
    [
      'has a quotation mark that is not closed',
      'x,y,name\n1,2,"tall\n3,4,small\n',
      'line 2: a quotation mark opens a cell',
    ],
    ['places nobody', '# made up\nweight\n3\n', 'line 2: columns x and y are missing'],
    [
      'has a word for a number',
      '# made up\n\nx,y,weight\n1,2,3\n# a remark\n4,5,heavy\n',
      'line 6: “heavy” is no number for weight',
    ],
    ['has nothing where a number belongs', 'x,y,weight\n1,2\n', 'line 2: “” is no number for weight'],
    [
      'has a row after one of several lines',
      'x,y,weight,coat\n1,2,3,"brown"\n1,2,3,"gr\ney"\n4,5,none,grey\n',
      'line 5: “none” is no number for weight',
    ],
    ['has another answer than yes and no', 'x,y,tame\n1,2,maybe\n', 'line 2: “maybe” is no yes or no for tame'],
    ['has a word that is no choice', 'x,y,coat\n1,2,green\n', 'line 2: “green” is no one of brown, grey for coat'],
    ['has a state that is none', 'x,y,life\n1,2,Old\n', 'line 2: “Old” is no one of Pup, Adult for life'],
    ['points at half an agent', 'x,y,mother\n1,2,1.5\n', 'line 2: “1.5” is no number of an agent for mother'],
  ])('that %s is said so, with the line', (name, csv, said) => {
    const found = findings(VOLES, name === 'is not there' ? {} : { 'voles.csv': csv });
    expect(found.join('\n')).toContain(said);
    expect(found[0]).toMatch(/^"voles.csv"/);
  });

  it('says each column’s first mistake only, and which columns are not used', () => {
    expect(findings(VOLES, { 'voles.csv': 'x,y,weight\n1,2,a\n1,2,b\n' })).toHaveLength(1);
    const found = checkModel(VOLES, new Map([['voles.csv', 'x,y,colour,seen\n1,2,3,4\n']])).diagnostics.filter(
      (d) => d.code === 'file/column',
    );
    expect(found.map((d) => [d.severity, /“(\w+)” of “voles.csv”/.exec(d.message)?.[1]])).toEqual([
      ['warning', 'colour'],
      ['warning', 'seen'],
    ]);
  });
});

describe('a file of ties', () => {
  it('gives ends and attributes', () => {
    const { model } = checkModel(TIES, new Map([['kin.csv', '# made up\nto,from,trust\n2,1,0.5\n4,3,2\n']]));
    const ties = [...model!.tieFiles.values()][0]!;
    expect([ties.from, ties.to, ties.columns.get('trust')]).toEqual([
      [1, 3],
      [2, 4],
      [0.5, 2],
    ]);
  });
  it.each([
    ['without its ends', '# made up\na,b\n1,2\n', 'line 2: columns “from” and “to” are needed'],
    ['with a word for an end', 'from,to\n1,2\n2,three\n', 'line 3: “three” is no whole number for to'],
    ['with half an agent', 'from,to\n1.5,2\n', 'line 2: “1.5” is no whole number for from'],
    ['with a word for an attribute', 'from,to,trust\n1,2,much\n', 'line 2: “much” is no number for trust'],
  ])('%s is said so', (_, csv, said) => expect(findings(TIES, { 'kin.csv': csv }).join('\n')).toContain(said));
});

describe('a raster', () => {
  const head = 'ncols 4\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 5\nNODATA_value -9\n';
  it('is read from the top, with nothing where it has no data', () => {
    const { model } = checkModel(RASTER, new Map([['grass.asc', `${head}1 2 3 4\n5 6 -9 8\n`]]));
    expect([...model!.rasters.values()]).toEqual([{ columns: 4, rows: 2, values: [5, 6, 0, 8, 1, 2, 3, 4] }]);
  });
  it('may have its rows broken over lines', () => {
    const { model } = checkModel(RASTER, new Map([['grass.asc', `${head}1 2\n3 4 5\n6 7 8\n`]]));
    expect([...model!.rasters.values()][0]!.values).toEqual([5, 6, 7, 8, 1, 2, 3, 4]);
  });
  it.each([
    ['without its size', '1 2 3 4\n5 6 7 8\n', 'lines “ncols 40” and “nrows 30” are missing'],
    ['with too few values', `${head}1 2 3 4\n5 6 7\n`, '4 columns and 2 rows make 8 values, but there are 7'],
    ['with a word for a value', `${head}1 2 3 4\n5 six 7 8\n`, 'line 8: a value is no number'],
  ])('%s is said so', (_, text, said) => expect(findings(RASTER, { 'grass.asc': text }).join('\n')).toContain(said));
});

describe('a raster of choices', () => {
  const text = (words: string): string =>
    `${BASE}field ground on Field, cells of 5 m\n  start from "land.asc" of ${words}\n`;
  const raster = (words: string, content: string) =>
    [...checkModel(text(words), new Map([['land.asc', content]])).model!.rasters.values()][0];
  it('has the words of the field, with whatever capitals, and the first where it has no data', () => {
    const head = 'ncols 2\nnrows 2\nNODATA_value none\n';
    expect(raster('bare, moss', `${head}Moss bare\nnone moss\n`)).toEqual({
      columns: 2,
      rows: 2,
      values: [0, 1, 1, 0],
    });
  });
  it('has numbers that stand for words, several of them for one', () => {
    expect(raster('1 bare, 2 moss, 8 bare', 'ncols 3\nnrows 1\ncellsize 5\nbyteorder 1\n8 2 1.0\n')!.values).toEqual([
      0, 1, 0,
    ]);
  });
  it('is written so that it is read again', () => {
    const cells = { columns: 2, rows: 2, values: [0, 1, 1, 0] };
    const written = rasterText({ ...cells, cell: 5, options: ['bare', 'moss'] });
    expect(raster('bare, moss', written)).toEqual(cells);
  });
  it.each([
    ['bare, moss', 'bare mos', 'line 3: “mos” is none of bare, moss.'],
    [
      'bare, moss',
      '1 2',
      '“1” is none of bare, moss. Where cells hold numbers, the text says which stands for which: “of 1 bare, 2 moss”.',
    ],
    ['bare', '1 2', 'which: “of 1 bare”.'],
    ['1 bare, 2 moss', '1 3', 'line 3: “3” is none of the numbers 1, 2.'],
    ['1 bare, 2 moss', 'bare moss', 'line 3: “bare” is none of the numbers 1, 2.'],
    ['constructor, moss', '__proto__ moss', '“__proto__” is none of constructor, moss.'],
  ])('of %s with %s says what is wrong', (words, row, said) =>
    expect(findings(text(words), { 'land.asc': `ncols 2\nnrows 1\n${row}\n` }).join('\n')).toContain(said),
  );
  it.each([
    ['1 bare, 1 moss', '1 stands for a second word.'],
    ['1 bare, moss', 'A number is missing before “moss”.'],
    ['1, 2', 'the word that the number stands for'],
  ])('of %s is a mistake in the text', (words, said) =>
    expect(
      checkModel(text(words), new Map([['land.asc', 'ncols 1\nnrows 1\n1\n']]))
        .diagnostics.map(({ message }) => message)
        .join('\n'),
    ).toContain(said),
  );
});

describe('the files that a model wants', () => {
  it('are those it names and does not hold itself, each once', () => {
    const text = `${RASTER}data "kin.csv"\n  from,to\n  1,2\nagent Vole\n  start from "voles.csv"\nagent Owl\n  start from "voles.csv"\nnetwork Kin ties Vole to Vole: from "kin.csv"\nobstacle Wall on Field\n  from "walls.asc"\n`;
    expect(filesWanted(treeOf(text)).sort()).toEqual(['grass.asc', 'voles.csv', 'walls.asc']);
  });
});
