import { describe, expect, it } from 'vitest';
import { studiedModel } from '../../../test/models.ts';
import { sheetRows } from '../../language/sheet.ts';
import { tablesNamedIn } from './match-lines.ts';
import type { ObservedTable } from './observations.ts';
import { readMatch } from './read-match.ts';
import { observedIn, tieTo } from './ties.ts';

const model = studiedModel(`model M
clock
  step 1 day from 2031-03-01
  end after 90 days
parameter strike = 0.2 per day, from 0 to 1
parameter catch_rate = 0.5, from 0 to 1
parameter founders = 30, whole from 1 to 500
agent Vole
  start founders
  has waited = 3 hours
measure voles = count Vole
measure wait in hours = mean of it.waited over Vole
`);
const table = (text: string): ObservedTable => {
  const [header, ...rows] = sheetRows(text);
  return { header: header!.cells, rows };
};
const TABLES = new Map([
  ['counts.csv', table('day,caught,sd\n2031-03-11,12,2\n2031-03-21,9,1\n2031-04-10,4,1\n')],
  ['long, list.csv', table('t;what;n\n1;vole;3,5\n2;vole;4\n')],
]);
const TEXT = `match Trap counts   # made up
  note Do the counts
  note fix it?
observed "counts.csv"
  time is date in column day, written year-month-day
  voles * catch_rate from column caught, mean over the interval, error from column sd, weight 2, called traps
observed "long, list.csv"
  time is weeks in column t
  wait from column n, where what is vole, error negative binomial of 4
hold out from 2031-04-01
find strike 0 to 0.4 per day
find founders 10 to 60
set catch_rate = 0.25
by sequential monte carlo, 50 draws, at most 500 runs, seed 3
12 seeds
`;
const read = (text: string) => readMatch(text, model, TABLES);
const said = (text: string): string[] =>
  read(text).diagnostics.map(({ message, span }) => `${text.slice(span.start, span.end)} | ${message}`);

describe('the text of a match', () => {
  it('says tables, ties, what is held out, what is sought and how', () => {
    const { match, diagnostics } = read(TEXT);
    expect(diagnostics).toEqual([]);
    expect(tablesNamedIn(TEXT)).toEqual(['counts.csv', 'long, list.csv']);
    expect(match).toMatchObject({
      name: 'Trap counts',
      note: 'Do the counts fix it?',
      heldOutFrom: 31,
      unknowns: [
        { parameter: 'strike', prior: { is: 'uniform', low: 0, high: 0.4 } },
        { parameter: 'founders', prior: { is: 'whole', low: 10, high: 60 } },
      ],
      parameters: { catch_rate: 0.25 },
      search: { method: 'sequential monte carlo', draws: 50, mostRuns: 500, luck: 3 },
      seeds: 12,
    });
    const [traps, wait] = match!.series;
    expect(traps).toMatchObject({
      name: 'traps',
      expression: 'voles * catch_rate',
      reading: 'mean',
      error: { is: 'column' },
      weight: 2,
      observations: [
        { time: 10, since: 0, value: 12, sd: 2 },
        { time: 20, since: 10, value: 9, sd: 1 },
        { time: 40, since: 20, value: 4, sd: 1 },
      ],
    });
    expect(wait).toMatchObject({
      name: 'wait',
      reading: 'at',
      error: { is: 'negative binomial', size: 4 },
      observations: [
        { time: 7, since: 0, value: 3.5 },
        { time: 14, since: 7, value: 4 },
      ],
    });
  });

  it('has two series of one name told apart', () =>
    expect(
      read('match M\nobserved "counts.csv"\nvoles from column caught\nvoles from column sd\n').match!.series.map(
        ({ name }) => name,
      ),
    ).toEqual(['voles', 'voles (2)']));

  it.each<[string, string, string]>([
    ['no name', 'observed "counts.csv"\nvoles from column caught\n', 'observed "counts.csv" | The match has no name.'],
    [
      'a line that says nothing',
      TEXT.replace('12 seeds', 'please agree'),
      'please agree | “please agree” says nothing about a match.',
    ],
    ['no table', 'match M\n', 'match M | The match names no table of what was observed.'],
    [
      'a table that is not there',
      TEXT.replace('"counts.csv"', '"count.csv"'),
      'count.csv | There is no table “count.csv”.',
    ],
    [
      'a tie above its table',
      'match M\nvoles from column caught\n',
      'voles from column caught | No table is named above this line.',
    ],
    [
      'nothing tied',
      'match M\nobserved "counts.csv"\n',
      'observed "counts.csv" | Nothing of the model is tied to a column.',
    ],
    ['a measure that is not there', TEXT.replace('voles *', 'moles *'), 'moles | “moles” is not known here.'],
    [
      'a column that is not there',
      TEXT.replace('column n,', 'column m,'),
      'wait from column m, where what is vole, error negative binomial of 4 | There is no column “m”. The columns are t, what, n.',
    ],
    [
      'the agents themselves',
      TEXT.replace('voles *', '(count Vole) *'),
      '(count Vole) * catch_rate | It asks the agents themselves, who are gone when a run is over.',
    ],
    [
      'a part without sense',
      TEXT.replace('weight 2', 'weighing 2'),
      'weighing 2 | “weighing 2” says nothing about how it was observed.',
    ],
    [
      'a size of nought',
      TEXT.replace('binomial of 4', 'binomial of 0'),
      'error negative binomial of 0 | “error negative binomial of 0” says nothing about how it was observed.',
    ],
    [
      'a time without sense',
      TEXT.replace('weeks in', 'moons in'),
      'moons in column t | “moons” is no way to tell the time.',
    ],
    [
      'a date written in no way',
      TEXT.replace('year-month-day', 'upside down'),
      'date in column day, written upside down | “upside down” is no way to write a date.',
    ],
    [
      'a parameter that is not there',
      TEXT.replace('find strike', 'find strik'),
      'strik | The model has no parameter “strik”.',
    ],
    ['a prior without sense', TEXT.replace('10 to 60', 'many'), 'many | “many” is no number for “founders”.'],
    [
      'one sought twice',
      TEXT.replace('founders 10 to 60', 'strike 0 to 1 per day'),
      'find strike 0 to 1 per day | “strike” is sought twice.',
    ],
    [
      'one sought and set',
      TEXT.replace('set catch_rate', 'set strike'),
      'set strike = 0.25 | “strike” is sought and set.',
    ],
    [
      'no way of seeking',
      TEXT.replace(/by seq.*\n/, ''),
      'find strike 0 to 0.4 per day | The match does not say how what agrees is found.',
    ],
    [
      'nothing sought',
      TEXT.replace(/find.*\n/g, ''),
      'by sequential monte carlo, 50 draws, at most 500 runs, seed 3 | Nothing is sought.',
    ],
    [
      'no weight at all',
      TEXT.replace('weight 2', 'weight 0').replace('wait from column n,', 'wait from column n, weight 0,'),
      '| No series has a weight, so that nothing tells what agrees.',
    ],
    [
      'few draws',
      TEXT.replace('50 draws', '3 draws'),
      'by sequential monte carlo, 3 draws, at most 500 runs, seed 3 | A posterior has 10 to 5,000 draws, not 3.',
    ],
    [
      'too few runs',
      TEXT.replace('500 runs', '60 runs'),
      'by sequential monte carlo, 50 draws, at most 60 runs, seed 3 | 50 draws take at least 100 and at most 1,000,000 runs, not 60.',
    ],
    ['no seeds', TEXT.replace('12 seeds', '0 seeds'), '0 seeds | 1 to 100000 seeds are run, not 0.'],
    [
      'all held out',
      TEXT.replace('2031-04-01', '2031-03-01'),
      'hold out from 2031-03-01 | All observations are held out, so that none is left to be used.',
    ],
    [
      'no time to hold out from',
      TEXT.replace('2031-04-01', 'spring'),
      'hold out from spring | “spring” is no time of the model.',
    ],
    ['two names', `${TEXT}match Again\n`, 'match Again | There are two lines like “match Trap counts”.'],
  ])('tells of %s where it stands', (_, text, wanted) =>
    expect(said(text)).toContainEqual(expect.stringContaining(wanted)),
  );

  it.each([
    '',
    '\n\n',
    '# nothing',
    'match',
    'observed',
    'find',
    'by',
    'time is',
    'hold out',
    'x from column',
    '"',
    '(((',
    'constructor from column __proto__',
    'find constructor 1 to 2',
  ])('never throws on “%s”', (text) => expect(read(text).match).toBeUndefined());
});

describe('what an observer would have written of a run', () => {
  const tied = (text: string) => {
    const found = tieTo(model.text, undefined, { text, span: { start: 0, end: text.length } });
    if ('diagnostics' in found) throw new Error(found.diagnostics[0]?.message);
    return found;
  };
  /** Rows of voles and wait: 10 i voles, empty on day 3. */
  const rows = Float64Array.from({ length: 14 }, (_, i) => (i % 2 === 1 ? 3 : i === 6 ? NaN : 5 * i));
  const run = { result: { rows, every: 1, steps: 6 }, parameters: [0.2, 0.5, 30] };
  const clock = { measures: 2, stepLength: 1, steps: 9 };
  const times = [2, 5, 9, 10].map((time, i) => ({ time, since: [0, 2, 5, 9][i]!, value: 0 }));

  it('reads an expression with the parameters of the run', () =>
    expect([...observedIn(run, tied('voles * catch_rate + 1'), 'at', times, clock)]).toEqual([11, 26, 31, NaN]));

  it('has means and totals over the interval since the time before, empty rows passed over', () => {
    expect([...observedIn(run, tied('voles'), 'mean', times, clock)]).toEqual([10, 45, 60, NaN]);
    expect([...observedIn(run, tied('voles'), 'total', times, clock)]).toEqual([30, 90, 240, NaN]);
    expect([...observedIn(run, tied('voles'), 'last', times, clock)]).toEqual([20, 50, 60, NaN]);
  });

  it('reads a measure as it is shown, and what is reckoned with it in base units', () => {
    expect(observedIn(run, tied('wait'), 'at', times.slice(0, 1), clock)[0]).toBe(3);
    expect(observedIn(run, tied('(wait)'), 'at', times.slice(0, 1), clock)[0]).toBe(3);
    expect(observedIn(run, tied('wait / 1 hour'), 'at', times.slice(0, 1), clock)[0]).toBeCloseTo(3, 12);
  });

  it('of rows kept every so many steps is read in the nearest', () => {
    const kept = { result: { rows: rows.subarray(0, 8), every: 2, steps: 6 }, parameters: run.parameters };
    expect([...observedIn(kept, tied('voles'), 'at', [{ time: 4, since: 0, value: 0 }], clock)]).toEqual([20]);
  });
});
