import { loadModel, readCsv, readMatch } from '@vole/core';
import { describe, expect, it } from 'vitest';
import {
  linesLike,
  partOf,
  usualPrior,
  withExpression,
  withHoldOut,
  withoutTable,
  withoutUnknown,
  withPart,
  withSearch,
  withTable,
  withUnknown,
} from './match-edits.ts';

const MODEL = `model M
clock
  step 1 day from 2031-03-01
  end after 30 days
parameter strike = 0.2 per day, from 0 to 0.4
parameter bite = 0.5
parameter litter = 4, whole
parameter calm = yes
parameter mood = sad of sad, glad
agent Vole
  start 3
measure voles = count Vole
`;
const { loaded } = loadModel(MODEL);
const { plan } = loaded!;
const TEXT = `# mine
match Counts
observed "a.csv"
  time is days  # from the start
  voles from column seen, error 12 %, mean over the interval
  voles from column "heard, at night"
find strike 0 to 0.4
by rejection, 50 draws, at most 500 runs, seed 7
`;
const TABLES = new Map([['a.csv', readCsv('day,seen,"heard, at night"\n2,3,4\n4,5,6\n')]]);
const problemsOf = (text: string): string[] =>
  readMatch(text, { text: MODEL, loaded: loaded! }, TABLES).diagnostics.map(({ message }) => message);

describe('the text of a match', () => {
  it('is changed at one word, and everything else stays as it was', () => {
    const [tie, second] = linesLike(TEXT, 'tie');
    expect(partOf(tie!, 'error')).toBe('error 12 %');
    expect(partOf(second!, 'error')).toBeUndefined();
    const changes = [
      [withPart(TEXT, tie!, 'error', 'error poisson'), TEXT.replace('error 12 %', 'error poisson')],
      [withPart(TEXT, tie!, 'error', undefined), TEXT.replace(', error 12 %', '')],
      [
        withPart(TEXT, tie!, 'reading', 'last in the interval'),
        TEXT.replace('mean over the interval', 'last in the interval'),
      ],
      [withPart(TEXT, second!, 'error', 'error 3'), TEXT.replace('at night"', 'at night", error 3')],
      [withPart(TEXT, second!, 'reading', undefined), TEXT],
      [
        withExpression(TEXT, second!, 'voles * 2'),
        TEXT.replace('voles from column "heard', 'voles * 2 from column "heard'),
      ],
      [withUnknown(TEXT, 'strike', '0.1 to 0.3'), TEXT.replace('0 to 0.4', '0.1 to 0.3')],
      [withUnknown(TEXT, 'bite', '0 to 1'), TEXT.replace('0 to 0.4\n', '0 to 0.4\nfind bite 0 to 1\n')],
      [withoutUnknown(TEXT, 'bite'), TEXT],
      [withSearch(TEXT, { draws: 60 }), TEXT.replace('50 draws', '60 draws')],
      [withHoldOut(TEXT, '3 days'), TEXT.replace('at night"\n', 'at night"\nhold out from 3 days\n')],
      [withHoldOut(TEXT, ''), TEXT],
    ];
    for (const [changed, wanted] of changes) {
      expect(changed).toBe(wanted);
      expect(problemsOf(changed!)).toEqual([]);
    }
  });

  it('seeks with a way of finding, and without an unknown has none', () => {
    const bare = TEXT.slice(0, TEXT.indexOf('find'));
    const seeking = withUnknown(bare, 'strike', '0 to 0.4');
    expect(problemsOf(seeking)).toEqual([]);
    expect(linesLike(seeking, 'by')).toHaveLength(1);
    expect(withoutUnknown(seeking, 'STRIKE')).toBe(bare);
    expect(withSearch(bare, { draws: 3 })).toBe(bare);
  });

  it('takes a table in, in the place of one of its name, and gives it away', () => {
    const second = withTable(TEXT, 'b.csv', ['time is days', 'voles from column n']);
    expect(second).toContain('at night"\nobserved "b.csv"\n  time is days\n  voles from column n\nfind');
    expect(withoutTable(second, 'b.csv')).toBe(TEXT);
    expect(withTable(second, 'b.csv', ['time is weeks']).match(/b\.csv/g)).toHaveLength(1);
    expect(withTable('', 'my counts.csv', ['time is days'])).toBe(
      'match my counts\nobserved "my counts.csv"\n  time is days\n',
    );
    expect(withoutTable(TEXT, 'c.csv')).toBe(TEXT);
    expect(linesLike(withoutTable(TEXT, 'a.csv'), 'tie')).toEqual([]);
  });

  it.each([
    ['strike', '0 to 0.4 per day'],
    ['bite', '0.25 to 0.75'],
    ['litter', '2 to 6'],
    ['calm', 'yes, no'],
    ['mood', 'sad, glad'],
  ])('thinks of %s as %s before anything is known, which can be read', (name, prior) => {
    expect(usualPrior(plan.parameters.find((parameter) => parameter.name === name)!)).toBe(prior);
    expect(problemsOf(withUnknown(TEXT, name, prior))).toEqual([]);
  });
});
