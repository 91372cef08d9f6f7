import { describe, expect, it } from 'vitest';
import { sheetRows } from '../../language/sheet.ts';
import { planOf } from '../../../test/models.ts';
import { ordersOf, secondsOfDate } from '../../calendar/dates.ts';
import type { ObservedTable, SeriesColumns, TimeColumn } from './observations.ts';
import { readSeries, writtenNumber } from './observations.ts';

const plan = planOf(
  'model M\nclock\n  step 1 day from 2031-03-01\n  end after 90 days\nagent A\n  start 1\nmeasure m = count A\n',
);
const bare = planOf('model M\nclock\n  step 1 day\n  end after 90 days\nagent A\n  start 1\nmeasure m = count A\n');
const table = (text: string): ObservedTable => {
  const [header, ...rows] = sheetRows(text);
  return { header: header!.cells, rows };
};
const DATES: TimeColumn = { is: { date: undefined } };
const read = (text: string, columns: SeriesColumns, time = DATES) => readSeries(table(text), time, columns, plan);

describe('dates as they are written', () => {
  const day = Date.UTC(2031, 2, 5) / 1000;
  it.each(['2031-03-05', '2031/3/5', '20310305', '5 March 2031', '5. Mar 2031', 'March 5, 2031', 'Mar 5 2031'])(
    '%s',
    (text) => expect(secondsOfDate(text, 'year month day')).toBe(day),
  );
  it.each(['05.03.2031', '5/3/2031', '5-3-2031'])('%s, day first', (text) =>
    expect(secondsOfDate(text, 'day month year')).toBe(day),
  );
  it('03/05/2031, month first', () => expect(secondsOfDate('03/05/2031', 'month day year')).toBe(day));
  it.each([
    ['2031-03-05 14:30', 52_200],
    ['2031-03-05T14:30:15Z', 52_215],
    ['2031-03-05 00:00', 0],
    ['2031-03-05 24:00', 86_400],
  ])('%s with its time', (text, seconds) => expect(secondsOfDate(text, 'year month day')).toBe(day + seconds));
  it.each([
    '',
    'soon',
    '2031-02-29',
    '2031-13-01',
    '2031-00-10',
    '31.4.2031',
    '2031-03-05 25:00',
    '5.3.31',
    '2031-3',
    'constructor',
  ])('%s is none', (text) => expect(ordersOf([text])).toEqual([]));
  it('a leap day is one', () =>
    expect(secondsOfDate('2032-02-29', 'year month day')).toBe(Date.UTC(2032, 1, 29) / 1000));
});

describe('numbers as they are written', () => {
  it.each<[string, number | undefined]>([
    ['12', 12],
    [' -3.5 ', -3.5],
    ['3,5', 3.5],
    ['1.234,5', 1234.5],
    ['1,234.5', 1234.5],
    ['1,234,567', 1234567],
    ['0,125', 0.125],
    ['1 234', 1234],
    ['1\u2009234,5', 1234.5],
    ['2e3', 2000],
    ['few', undefined],
    ['1,2,3', undefined],
    ['12 voles', undefined],
    ['Infinity', undefined],
    ['', undefined],
  ])('%s is %d', (text, value) => expect(writtenNumber(text)).toBe(value));
});

describe('a series of observations', () => {
  it('is read by dates, in the order of time, with the time before each, gaps counted', () => {
    const { observations, gaps, problems } = read(
      'day,voles\n2031-03-31,310\n2031-03-11,200\n2031-04-30,NA\n2031-05-10,\n2031-05-30,50\n',
      {
        columns: ['voles'],
      },
    );
    expect(problems).toEqual([]);
    expect(gaps).toBe(2);
    expect(observations).toEqual([
      { time: 10, since: 0, value: 200 },
      { time: 30, since: 10, value: 310 },
      { time: 90, since: 30, value: 50 },
    ]);
  });

  it('has replicates of one time in several columns or rows, each since the time before', () => {
    const { observations } = read('day;north;south\n11.03.2031;1,5;2,5\n11.03.2031;3;\n21.03.2031;4;5\n', {
      columns: ['north', 'south'],
    });
    expect(observations.map(({ time, since, value }) => [time, since, value])).toEqual([
      [10, 0, 1.5],
      [10, 0, 2.5],
      [10, 0, 3],
      [20, 10, 4],
      [20, 10, 5],
    ]);
  });

  it('is picked out of a long table by a word, with errors from a column', () => {
    const long = 'when,what,count,sd\n2031-03-02,vole,5,1\n2031-03-02,kestrel,2,9\n2031-03-03,Vole ,6,0.5\n';
    expect(
      read(long, { columns: ['count'], errorColumn: 'sd', where: { column: 'what', is: 'vole' } }).observations,
    ).toEqual([
      { time: 1, since: 0, value: 5, sd: 1 },
      { time: 2, since: 1, value: 6, sd: 0.5 },
    ]);
    expect(read(long, { columns: ['count'], where: { column: 'what', is: 'owl' } }).problems).toEqual([
      'No row has “owl” in column “what”.',
    ]);
  });

  it('counts times in lengths of time', () =>
    expect(
      readSeries(
        table('week,voles\n1,5\n2.5,6\n'),
        { is: { every: 7 } },
        { columns: ['voles'] },
        bare,
      ).observations.map(({ time }) => time),
    ).toEqual([7, 17.5]));

  it('says in which line what is wrong, remarks and empty lines counted', () => {
    const { problems, observations } = read(
      '# made up\n\nday,voles\n2031-03-02,few\n\n# later\nsoon,3\n2031-03-04,7\n',
      { columns: ['voles'] },
    );
    expect(problems).toEqual([
      'Line 4, column “voles”: “few” is no number.',
      'Line 7, column “day”: “soon” is no date.',
    ]);
    expect(observations).toHaveLength(1);
  });

  it('shows a long cell in one line, cut', () =>
    expect(read(`day,voles\n2031-03-02,"many\n${'9'.repeat(400)}x"\n`, { columns: ['voles'] }).problems).toEqual([
      `Line 2, column “voles”: “many ${'9'.repeat(54)}…” is no number.`,
    ]));

  it('asks which way dates are written that can be read in two, and takes the one that all of them have', () => {
    expect(read('day,voles\n3/4/2031,1\n5/6/2031,2\n', { columns: ['voles'] }).problems[0]).toContain(
      'can be read as day, month, year or as month, day, year',
    );
    expect(read('day,voles\n3/4/2031,1\n25/6/2031,2\n', { columns: ['voles'] }).observations[0]!.time).toBe(33);
  });

  it.each<[string, SeriesColumns, TimeColumn, RegExp]>([
    ['a column', { columns: ['owls'] }, DATES, /no column “owls”. The columns are day, voles/],
    ['a column of times', { columns: ['voles'] }, { column: 'week', is: { every: 7 } }, /no column “week”/],
    ['a column of errors', { columns: ['voles'], errorColumn: 'sd' }, DATES, /no column “sd”/],
  ])('says that %s is not there', (_, columns, time, said) =>
    expect(read('day,voles\n2031-03-02,1\n', columns, time).problems[0]).toMatch(said),
  );

  it('needs a calendar for dates', () =>
    expect(readSeries(table('day,voles\n2031-03-02,1\n'), DATES, { columns: ['voles'] }, bare).problems[0]).toContain(
      'no calendar',
    ));

  it('tells of eight problems at most', () => {
    const { problems } = read(`day,voles\n${'soon,1\n'.repeat(30)}`, { columns: ['voles'] });
    expect(problems).toHaveLength(9);
    expect(problems.at(-1)).toBe('... and 22 more.');
  });
});
