import { describe, expect, it } from 'vitest';
import { loadModel } from '../../load.ts';
import type { Design } from '../design/design.ts';
import { pointAt, pointCount } from '../design/design.ts';
import { blockOf } from '../results/block.ts';
import { StudyResults } from '../results/study-results.ts';
import type { FinishedRun } from '../runner/run-study.ts';
import { answerTo } from './answer.ts';
import type { Question } from './questions.ts';

const MODEL = `model Bank
parameter bite = 1, from 0 to 9
parameter door = ajar of shut, ajar
clock
  end after 3 steps
agent Vole
  start 2
measure voles = count Vole
summary left = last of voles
summary gone = last of voles < 5
`;
const design: Design = {
  is: 'every combination',
  factors: [
    { parameter: 'bite', values: [5, 1, 3] },
    { parameter: 'door', values: [0, 1] },
  ],
  seeds: [1, 2, 3, 4],
};

/** What a run comes to: ten for each bite, one for a door ajar, a tenth for the seed. */
const leftOf = ([bite, door]: readonly number[], seed: number): number => 10 * bite! + door! + seed / 10;

function asked(change: (run: FinishedRun) => FinishedRun = (run) => run) {
  const results = new StudyResults();
  const runs: FinishedRun[] = [];
  for (let place = 0; place < pointCount(design); place++)
    for (const seed of design.seeds) {
      const { id, values } = pointAt(design, place);
      const summaries = Float64Array.of(leftOf(values, seed), values[0]! > 2 ? 1 : 0);
      const result = { seed, steps: 3, rows: new Float64Array(4), every: 1, summaries, refused: 0 };
      runs.push(change({ point: id, seed, outcome: { result } }));
    }
  // In another order than that of the design, in two blocks.
  results.add(blockOf(runs.slice(9).reverse()));
  results.add(blockOf(runs.slice(0, 9)));
  return { plan: loadModel(MODEL).loaded!.plan, design, results, text: MODEL };
}

describe('the table of all runs', () => {
  const study = asked();
  const table = (more: Partial<Extract<Question, { is: 'run table' }>>) =>
    answerTo(study, { is: 'run table', filter: '', from: 0, count: 100, ...more });

  it('has every run in the order of the design', () => {
    const { runs, matching, rows } = table({});
    expect([runs, matching, rows.length]).toEqual([24, 24, 24]);
    expect(rows.slice(0, 5).map(({ place, seed }) => [place, seed])).toEqual([
      [0, 1],
      [0, 2],
      [0, 3],
      [0, 4],
      [1, 1],
    ]);
    for (const { values, seed, summaries } of rows) expect(summaries[0]).toBeCloseTo(leftOf(values, seed), 12);
  });

  it.each([
    ['bite', false, [1, 3, 5]],
    ['bite', true, [5, 3, 1]],
  ])('is put in order by %s, down: %s', (by, down, wanted) => {
    const { rows } = table({ sort: { by, down } });
    expect([...new Set(rows.map(({ values }) => values[0]))]).toEqual(wanted);
    expect(rows.slice(0, 4).map(({ seed }) => seed)).toEqual([1, 2, 3, 4]);
  });

  it('is filtered by numbers, words and summaries, and gives a window of what is left', () => {
    expect(table({ filter: 'bite > 1 and seed is 2' }).rows.map(({ values }) => values)).toEqual([
      [5, 0],
      [5, 1],
      [3, 0],
      [3, 1],
    ]);
    expect(table({ filter: 'door ajar' }).matching).toBe(12);
    const window = table({ filter: 'left < 32', sort: { by: 'left', down: true }, from: 2, count: 3 });
    expect(window.matching).toBe(16);
    expect(window.rows.map(({ summaries }) => summaries[0])).toEqual(
      [31.2, 31.1, 30.4].map((x) => expect.closeTo(x, 9)),
    );
    expect(table({ filter: 'constructor > 1' }).matching).toBe(0);
    expect(table({ sort: { by: 'toString', down: false } }).matching).toBe(24);
    expect(table({ from: 99 }).rows).toEqual([]);
  });

  it('leaves failed runs out, and puts what is empty last, whichever way it is sorted', () => {
    const failing = asked((run) => {
      if (run.seed === 1)
        return {
          ...run,
          outcome: {
            failure: { severity: 'error', code: 'run/not-finite', message: 'x', span: { start: 0, end: 1 } },
            seed: 1,
          },
        };
      if (run.seed === 2 && 'result' in run.outcome) run.outcome.result.summaries[0] = NaN;
      return run;
    });
    for (const down of [false, true]) {
      const { runs, rows } = answerTo(failing, {
        is: 'run table',
        filter: '',
        sort: { by: 'left', down },
        from: 0,
        count: 99,
      });
      expect(runs).toBe(18);
      expect(rows.slice(-6).every(({ summaries }) => Number.isNaN(summaries[0]))).toBe(true);
    }
  });
});

describe('groups of points', () => {
  it('have the mean of their points in the order of the values, with the interval of the seeds', () => {
    const groups = answerTo(asked(), { is: 'groups', by: [0] });
    expect(groups.map(({ values, runs }) => [values, runs])).toEqual([
      [[1], 8],
      [[3], 8],
      [[5], 8],
    ]);
    expect(groups[1]!.estimates[0]!.value).toBeCloseTo(30.75, 10);
    // The seeds add 0.1 to 0.4 at every point alike: sd 0.1291, Student 2.353 with three degrees.
    expect(groups[1]!.estimates[0]!.high - 30.75).toBeCloseTo((2.3533634 * 0.1290994) / 2, 6);
    // Of all runs yes, and yet not certain: as many as there are seeds.
    expect(groups[2]!.estimates[1]).toMatchObject({ value: 1, high: 1, yes: 8 });
    expect(groups[2]!.estimates[1]!.low).toBeLessThan(0.7);
  });

  it('of no factor are all points together', () => {
    const [all] = answerTo(asked(), { is: 'groups', by: [] });
    expect([all!.runs, all!.values]).toEqual([24, []]);
    expect(all!.estimates[0]!.value).toBeCloseTo(30.75, 10);
  });
});

describe('main effects', () => {
  it('are told of a whole design of every combination only', () => {
    const effects = answerTo(asked(), { is: 'effects', summary: 0 })!;
    expect(effects.effects.map(({ factors }) => factors)).toEqual([[0], [1], [0, 1]]);
    // Variances: of 10, 30, 50 that is 800 / 3, of 0, 1 a quarter.
    expect(effects.effects[0]!.share.value).toBeCloseTo(800 / 3 / (800 / 3 + 0.25), 8);
    expect(effects.effects[2]!.share.value).toBeCloseTo(0, 8);
    expect(answerTo(asked(), { is: 'effects', summary: 9 })).toBeUndefined();
    const listed: Design = { is: 'listed', method: 'random', points: [[1, 0]], factors: design.factors, seeds: [1, 2] };
    expect(answerTo({ ...asked(), design: listed }, { is: 'effects', summary: 0 })).toBeUndefined();
  });
});
