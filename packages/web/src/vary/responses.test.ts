import type { FinishedRun } from '@vole/core';
import {
  answerTo,
  blockOf,
  combinationWords,
  designOf,
  factorWords,
  loadModel,
  nameWithUnit,
  pointAt,
  StudyResults,
} from '@vole/core';
import { describe, expect, it } from 'vitest';
import type { StudyRow } from '../storage/schema.ts';
import { responseLines, responseTable, usualValues } from './responses.ts';

const TEXT = `model M
clock
  step 1 day
  end after 3 days
parameter strike = 2 per week, from 0 to 7
parameter door = ajar of shut, ajar
parameter calm = yes
parameter nests = 4, whole from 1 to 20
agent A
  start 1
measure m = 1
summary s = last of m
summary some = last of m > 0
`;
const plan = loadModel(TEXT).loaded!.plan;
const study: StudyRow = {
  id: 's',
  projectId: 'p',
  kind: 'vary',
  name: 'Vary',
  text: TEXT,
  seeds: [1, 2],
  every: 1,
  parameters: {},
  factors: [
    { parameter: 'strike', values: [0, 7] },
    { parameter: 'door', values: [0, 1] },
  ],
  createdAt: 1,
  status: 'done',
};
const run = (place: number, seed: number, value: number): FinishedRun => ({
  point: pointAt(designOf(study), place).id,
  seed,
  outcome: {
    result: { seed, steps: 3, rows: new Float64Array(0), every: 1, summaries: Float64Array.of(value, 1), refused: 0 },
  },
});
const results = new StudyResults();
// Of the last point nothing is done yet, of the second one run.
results.add(blockOf([run(0, 1, 2), run(0, 2, 4), run(1, 1, 5), run(2, 1, 8), run(2, 2, 8)]));
const points = answerTo({ plan, design: designOf(study), results }, { is: 'points', most: 9 });

describe('what a study that varies parameters says', () => {
  it('names points by the words and units of the text', () => {
    expect([nameWithUnit(plan, 'strike'), nameWithUnit(plan, 'nests'), nameWithUnit(plan, 'gone')]).toEqual([
      'strike, per week',
      'nests',
      'gone',
    ]);
    expect([
      factorWords(plan, 'strike', 3),
      factorWords(plan, 'strike', 3, true),
      factorWords(plan, 'calm', 0),
    ]).toEqual(['3', '3 per week', 'no']);
    expect(combinationWords(plan, study, [7, 1])).toBe('strike 7 per week, door ajar');
  });

  it('draws a line for each value of the second parameter, through the points that have runs', () => {
    const lines = responseLines(plan, study, points, 0);
    expect(lines.map(({ name, points }) => [name, ...points.map(({ x, estimate }) => [x, estimate.value])])).toEqual([
      ['door shut', [0, 3], [7, 8]],
      ['door ajar', [0, 5]],
    ]);
    const alone = { ...study, factors: study.factors.slice(0, 1) };
    expect(responseLines(plan, alone, [], 0)).toEqual([{ name: 'strike', points: [] }]);
  });

  it('writes a row for each point; the interval of a single run has no ends', () => {
    const [header, both, one, same, none] = responseTable(plan, study, points, 0);
    expect(header).toEqual(['strike [per week]', 'door', 's', 'low90', 'high90', 'runs', 'never']);
    expect(both!.slice(0, 3)).toEqual([0, 'shut', 3]);
    expect(one).toEqual([0, 'ajar', 5, NaN, NaN, 1, 0]);
    expect(same).toEqual([7, 'shut', 8, 8, 8, 2, 0]);
    expect(none).toEqual([7, 'ajar', NaN, NaN, NaN, 0, 0]);
  });

  it('offers values around the one that is there', () => {
    expect(plan.parameters.map(usualValues)).toEqual(['5 values from 0 to 4', 'shut, ajar', 'no, yes', '2, 4, 8']);
    const whole = { ...plan.parameters[3]!, min: -5, max: 9 };
    expect([0, -3, 7, 9].map((value) => usualValues({ ...whole, value }))).toEqual([
      '0, 1',
      '-5, -3, -1',
      '4, 7, 9',
      '5, 9',
    ]);
  });
});
