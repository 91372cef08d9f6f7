import { loadModel, lookAtTable, readCsv, readMatch } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { withTable } from './match-edits.ts';
import { errorWords, guessChoices, linesOfChoices, withRole } from './table-choices.ts';

const modelOf = (clock: string): string =>
  `model M\nclock\n  step 1 day${clock}\n  end after 400 days\nagent Vole\n  start 3\nmeasure voles = count Vole\nmeasure pairs = voles / 2\n`;
const DATED = modelOf(' from 2031-03-01');
const PLAIN = modelOf('');

/** The lines that are guessed for a table, and what comes of them. */
function guessed(
  csv: string,
  model = DATED,
  change: (choices: ReturnType<typeof guessChoices>) => ReturnType<typeof guessChoices> = (x) => x,
) {
  const { loaded } = loadModel(model);
  const look = lookAtTable(csv);
  const lines = linesOfChoices(change(guessChoices(look, loaded!.plan)), look);
  const text = withTable('', 'seen.csv', lines);
  const { match, diagnostics } = readMatch(
    text,
    { text: model, loaded: loaded! },
    new Map([['seen.csv', readCsv(csv)]]),
  );
  return { look, lines, match, problems: diagnostics.map(({ message }) => message) };
}

describe('a table that is taken', () => {
  it('by the names of its columns is tied to measures, dates to the calendar', () => {
    const { lines, match } = guessed('date,voles,weight\n2031-03-04,3,20\n2031-03-09,4,21\n');
    expect(lines[0]).toBe('time is date in column date');
    expect(match!.series.map(({ name, observations }) => [name, observations.map(({ time }) => time)])).toEqual([
      ['voles', [3, 8]],
    ]);
  });

  it('without a calendar counts the unit that the column of times is named after', () => {
    const { lines, match } = guessed('weeks;voles\n1;3\n2;4\n', PLAIN);
    expect(lines).toEqual(['time is weeks in column weeks', 'voles from column voles']);
    expect(match!.series[0]!.observations.map(({ time }) => time)).toEqual([7, 14]);
  });

  it('is tied to nothing where no column bears the name of a measure, which is then asked for', () => {
    const { lines, problems } = guessed('day,seen,heard\n1,3,4\n2,5,6\n');
    expect(lines).toEqual(['time is days in column day']);
    expect(problems).toEqual(['Nothing of the model is tied to a column.']);
    const { match } = guessed('day,seen,heard\n1,3,4\n2,5,6\n', DATED, (choices) => ({
      ...choices,
      columns: choices.columns.map(({ role }) => ({ role, expression: role === 'values' ? 'voles' : '' })),
      reading: 'total over the interval',
      error: '12 %',
    }));
    // Both columns are of the same thing: replicates.
    expect(match!.series).toMatchObject([{ name: 'voles', reading: 'total', error: { is: 'percent', share: 0.12 } }]);
    expect(match!.series[0]!.observations).toHaveLength(4);
  });

  it('in the long form has a series for each word that tells them apart', () => {
    const { match } = guessed('day,who,voles\n1,meadow,3\n1,wood,4\n2,meadow,5\n');
    expect(match!.series.map(({ name, observations }) => [name, observations.length])).toEqual([
      ['meadow', 2],
      ['wood', 1],
    ]);
  });

  it('takes a column of errors for the values', () => {
    const { lines, match } = guessed('day,voles,sd\n1,3,1\n2,5,2\n');
    expect(lines[1]).toBe('voles from column voles, error from column sd');
    expect(match!.series[0]!.observations.map(({ sd }) => sd)).toEqual([1, 2]);
  });

  it('has one column of times, one of errors, one that tells series apart', () => {
    const { look } = guessed('day,week,voles\n7,1,3\n14,2,4\n');
    const choices = guessChoices(look, loadModel(DATED).loaded!.plan);
    const changed = withRole(choices, 1, 'time', look);
    expect(changed.columns.map(({ role }) => role)).toEqual(['not used', 'time', 'values']);
    expect(changed.timeIs).toBe('weeks');
    expect(withRole(changed, 2, 'not used', look).columns[2]!.expression).toBe('');
  });

  it('says in which order dates are written where they can be read in two ways', () => {
    const { lines, match } = guessed('day,voles\n04/03/2031,3\n05/03/2031,4\n');
    expect(lines[0]).toBe('time is date in column day, written day.month.year');
    expect(match!.series[0]!.observations.map(({ time }) => time)).toEqual([3, 4]);
  });

  it.each([
    ['12 %', 'error 12 %'],
    ['error 3', 'error 3'],
    [' Poisson ', 'error Poisson'],
    ['none', 'no error'],
    ['', 'no error'],
  ])('has the error “%s” written as “%s”', (typed, words) => expect(errorWords(typed)).toBe(words));
});
