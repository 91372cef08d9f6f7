import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { planOf, usualValues } from '../../test/models.ts';
import { compilePlan, loadModel, readParameter } from '../index.ts';
import type { Bundle } from '../formats/bundle.ts';
import { BundleError, readBundle, writeBundle } from '../formats/bundle.ts';
import { digestOf } from '../digest.ts';
import { csvOf } from '../csv.ts';
import { recordCells, recordHeader } from './records/record-table.ts';
import { rowHeader, runRows, summaryHeader, summaryRow } from './results/table.ts';
import { combinationAt, combinationCount, readFactor } from './design/factors.ts';
import type { RunResult } from './runner/simulate.ts';
import { simulate } from './runner/simulate.ts';
import { bandsOf } from './statistics/bands.ts';
import { meanEstimate, shareEstimate, summaryEstimate } from './statistics/intervals.ts';

const result = (seed: number, values: number[], summaries: number[] = []): RunResult => ({
  seed,
  steps: values.length - 1,
  rows: Float64Array.from(values),
  every: 1,
  summaries: Float64Array.from(summaries),
  refused: 0,
});

describe('factors', () => {
  const { checked } = loadModel(
    'model F\nclock\n  step 1 day\n  end after 9 days\nparameter p = 1\nparameter rate = 5 per week, from 0 to 70\nparameter whole_n = 3, whole from 1 to 9\nparameter calm = yes\nparameter door = open of open, covered, shut\nmeasure m = p\n',
  ).loaded!;
  const read = (text: string, name = 'p') =>
    readFactor(
      checked,
      checked.parameters.find((parameter) => parameter.name === name)!,
      text,
    );
  const ofOthers: [string, string, number[] | RegExp][] = [
    ['rate', '5 per day, 7 per week', [35, 7]],
    ['rate', '0 to 5 per day by 1 per day', [0, 7, 14, 21, 28, 35]],
    ['rate', '3 values from 0 per day to 2 per day', [0, 7, 14]],
    ['rate', '80', /“rate” goes from 0 per week to 70 per week/],
    ['whole_n', '1 to 9 by 4', [1, 5, 9]],
    ['whole_n', '1 to 3 by 0.5', /whole numbers, not 1.5/],
    ['calm', 'no, yes', [0, 1]],
    ['calm', '0, 1', /yes or no, not “0”.*no, yes/],
    ['door', 'open, covered', [0, 1]],
    ['door', 'open and shut', [0, 2]],
    ['door', 'ajar', /one of open, covered, shut, not “ajar”/],
    ['door', '1 to 2 by 1', /Write some of/],
  ];
  it.each(ofOthers)('of %s reads “%s” as the command line does', (name, text, found) => {
    const reading = read(text, name);
    if (found instanceof RegExp) expect('problem' in reading && reading.problem).toMatch(found);
    else expect(reading).toEqual({ values: found });
  });
  const cases: [string, number[] | RegExp][] = [
    ['3 %, 0.5', [0.03, 0.5]],
    ['1e3', [1000]],
    ['2, 6, 12', [2, 6, 12]],
    ['0 to 0.4 by 0.1', [0, 0.1, 0.2, 0.3, 0.4]],
    ['from 0 to 0.3 by 0.1', [0, 0.1, 0.2, 0.3]],
    ['0 to 1 by 0.4', [0, 0.4, 0.8]],
    ['5 values from 0 to 1', [0, 0.25, 0.5, 0.75, 1]],
    ['1 value from 3 to 4', [3]],
    ['', /^Write “2, 6, 12”/],
    ['2, six', /“six” is no number/],
    ['3, 3', /twice/],
    ['1 to 0 by 0.1', /goes up/],
    ['0 to 1 by 0.0001', /at most 1000/],
  ];
  for (const [text, wanted] of cases) {
    it(`reads “${text}”`, () => {
      const reading = read(text);
      if (wanted instanceof RegExp) expect('problem' in reading && reading.problem).toMatch(wanted);
      else expect(reading).toEqual({ values: wanted });
    });
  }
  it('combines every value with every other', () => {
    const factors = [
      { parameter: 'a', values: [1, 2] },
      { parameter: 'b', values: [5, 6, 7] },
    ];
    expect(Array.from({ length: combinationCount(factors) }, (_, i) => combinationAt(factors, i))).toEqual([
      [1, 5],
      [1, 6],
      [1, 7],
      [2, 5],
      [2, 6],
      [2, 7],
    ]);
    expect([combinationCount([]), combinationAt([], 0)]).toEqual([1, []]);
  });
});

describe('statistics across runs', () => {
  it('bands hold median and quantiles of type 7; a run that ended keeps its last value', () => {
    const bands = bandsOf([result(1, [0, 10, 20]), result(2, [0, 20]), result(3, [0, 30, 60])], 0, 1);
    expect(Array.from(bands.median)).toEqual([0, 20, 20]);
    expect(bands.low50[2]).toBe(20);
    expect(bands.high50[2]).toBe(40);
    expect(bands.high90[1]).toBeCloseTo(29, 12);
    expect([bands.runs, bands.endedEarly]).toEqual([3, 1]);
    expect(() => bandsOf([], 0, 1)).toThrow(RangeError);
  });
  it('intervals: Student for means, Wilson for shares, endless for one run', () => {
    // Half widths of n values with standard deviation 1, of the tables of Student's law.
    const halves = [2, 3, 6, 11, 31].map((n) => {
      const values = Array.from({ length: n }, (_, i) => i);
      const { value, high } = meanEstimate(values);
      const sd = Math.sqrt(values.reduce((sum, v) => sum + (v - value) ** 2, 0) / (n - 1));
      return Number((((high - value) / sd) * Math.sqrt(n)).toFixed(3));
    });
    expect(halves).toEqual([6.314, 2.92, 2.015, 1.812, 1.697]);
    const mean = meanEstimate([1, 2, 3, 4, NaN]);
    expect(mean).toMatchObject({ value: 2.5, runs: 4 });
    expect(mean.high - mean.value).toBeCloseTo((2.3534 * Math.sqrt(5 / 3)) / 2, 2);
    expect(meanEstimate([5])).toMatchObject({ low: -Infinity, high: Infinity });
    const share = shareEstimate(0, 40);
    expect([share.value, share.low]).toEqual([0, 0]);
    expect(share.high).toBeCloseTo(0.0633, 3);
  });
  it('of summaries count what never happened apart from yes, no and 0', () => {
    expect(summaryEstimate([NaN, 1, 0, 1, NaN], true)).toMatchObject({ value: 2 / 3, runs: 3, yes: 2, never: 2 });
    expect(summaryEstimate([NaN, NaN], true)).toMatchObject({ value: NaN, low: 0, high: 1, runs: 0, yes: 0, never: 2 });
    expect(summaryEstimate([NaN, 4, 6], false)).toMatchObject({ value: 5, runs: 2, never: 1, heaps: undefined });
  });
  it('of summaries say where two heaps are averaged', () => {
    const heaps = [1, 2, 3, 2, 1, 2, 3, 90, 91, 92, 93, 94, 95];
    expect(summaryEstimate(heaps, false).heaps).toEqual({ low: 7, high: 6, between: 46.5 });
    const even = Array.from({ length: 100 }, (_, i) => i);
    const skewed = even.map((i) => -Math.log((i + 0.5) / 100));
    for (const one of [even, skewed, even.map(() => 4), heaps.slice(0, 9)])
      expect(summaryEstimate(one, false).heaps).toBeUndefined();
  });
});

const MODEL = `model S
clock
  step 1 day from 2031-03-01
  end after 10 days
parameter p = 2 per week, from 0 to 9
parameter on = yes
parameter mood = calm of calm, wild
parameter n = 3, whole from 1 to 5
agent A
  start n
  has v = 0
  behaviour up
    v += 1
measure total = sum of it.v over A
measure big = total > 20
summary top = max of total
summary when_top = time of max of total
summary first_big = first time total > 20
summary never = first time total > 99
summary recent = mean of total over last 3 days
summary at_four = total at 4 days
summary ended_big = last of big
summary part = mean of (if big then 1 else 0)
summary now_there = count A where it.v > 5
`;

describe('one run from start to summary', () => {
  const plan = planOf(MODEL);
  const run = (every: number, steps?: number): RunResult => {
    const outcome = simulate(compilePlan(plan), { parameters: usualValues(plan), seed: 1, every, steps });
    if (!outcome || 'failure' in outcome) throw new Error('no result');
    return outcome.result;
  };
  it('gives every kind of summary', () => {
    expect(Array.from(run(1).summaries)).toEqual([30, 10, 7, NaN, 27, 12, 1, 4 / 11, 3]);
  });
  it('keeps rows 0, every, 2 every ..., and ends sooner if asked', () => {
    expect(Array.from(run(4).rows)).toEqual([0, 0, 12, 0, 24, 1]);
    expect(run(1, 3)).toMatchObject({ steps: 3 });
  });
  it('writes tidy tables', () => {
    expect(csvOf([rowHeader(plan)])).toBe('run,seed,step,time [days],total,big');
    expect(csvOf(runRows(plan, 1, run(5)))).toBe('1,1,0,0,0,0\n1,1,5,5,15,0\n1,1,10,10,30,1');
    expect(csvOf([summaryHeader(plan)])).toBe(
      'run,seed,steps,top,when_top [days],first_big [days],never [days],recent,at_four,ended_big,part,now_there',
    );
    expect(csvOf([summaryRow(2, run(1))])).toBe(`2,1,10,30,10,7,,27,12,1,${4 / 11},3`);
    expect(csvOf([[NaN, -0, 'a,"b"', 'two\nlines', 1e21], []])).toBe(',0,"a,""b""","two\nlines",1e+21\n');
  });
  it('writes records of agents and of meetings, choices by their words', () => {
    const recorded = planOf(`model R
clock
  end after 2 steps
agent A
  start 2
  has coat = brown of brown, grey
  has age = 0
  behaviour up
    age += number
    coat = if age > 1 then grey else brown
interaction meet: a A, b A
  anyone
  a.age += 0
order
  up in fixed order
  meet in fixed order
record A: age, coat
record meet: a.age, b.coat
measure m = count A
`);
    const outcome = simulate(compilePlan(recorded), { parameters: [], seed: 1, every: 1, records: true }) as {
      result: RunResult;
    };
    expect([csvOf([recordHeader(recorded, 0)]), csvOf([recordHeader(recorded, 1)])]).toEqual([
      'run,seed,step,A,age,coat',
      'run,seed,step,a,b,a.age,b.coat',
    ]);
    expect(csvOf(recordCells(recorded, 0, 3, outcome.result.seed, outcome.result.records![0]!)).split('\n')).toEqual([
      '3,1,0,1,0,brown',
      '3,1,0,2,0,brown',
      '3,1,1,1,1,brown',
      '3,1,1,2,2,grey',
      '3,1,2,1,2,grey',
      '3,1,2,2,4,grey',
    ]);
    const meetings = csvOf(recordCells(recorded, 1, 3, outcome.result.seed, outcome.result.records![1]!)).split('\n');
    expect(meetings).toHaveLength(4);
    expect(meetings[0]).toBe('3,1,1,1,2,1,grey');
    const unrecorded = simulate(compilePlan(recorded), { parameters: [], seed: 1, every: 1 }) as { result: RunResult };
    expect(unrecorded.result.records).toBeUndefined();
  });
  it('can be abandoned', () =>
    expect(
      simulate(compilePlan(plan), { parameters: usualValues(plan), seed: 1, every: 1 }, () => false),
    ).toBeUndefined());
});

describe('values of parameters as people type them', () => {
  const { loaded } = loadModel(MODEL);
  const read = (name: string, text: string) =>
    readParameter(
      loaded!.checked,
      loaded!.checked.parameters.find((p) => p.name === name)!,
      text,
    );
  it('takes plain numbers in the stated unit, other units, words', () => {
    expect(read('p', '3')).toEqual({ value: 3 / 7 });
    expect(read('p', '1 per day')).toEqual({ value: 1 });
    expect(read('on', ' No ')).toEqual({ value: 0 });
    expect(read('mood', 'wild')).toEqual({ value: 1 });
    expect(read('n', '2')).toEqual({ value: 2 });
  });
  it('says what is wrong', () => {
    const problem = (name: string, text: string): string => (read(name, text) as { problem: string }).problem;
    expect(problem('p', '10')).toContain('goes from 0 per week to 9 per week');
    expect(problem('p', '3 days')).toContain('is a time');
    expect(problem('n', '2.5')).toContain('whole');
    expect(problem('on', '1')).toContain('yes or no');
    expect(problem('mood', 'sad')).toContain('calm, wild');
    expect(problem('p', 'much')).toContain('no number');
    expect(problem('p', '1\nmeasure x = 1')).toContain('no number');
  });
});

describe('bundles', () => {
  const bundle: Bundle = {
    engine: '1',
    project: { name: 'A “project”', notes: 'note', match: 'match Counts\n' },
    model: MODEL,
    files: { 'hollow.geojson': '{"type":"FeatureCollection","features":[]}\n', 'voles.csv': 'x,y\n1,2\n' },
    studies: [
      {
        name: 'Repeat',
        kind: 'repeat' as const,
        seeds: [1, 2],
        every: 1,
        parameters: { p: 1 },
        factors: [],
        digest: 'abc',
      },
      {
        name: 'Two ways',
        kind: 'vary' as const,
        seeds: [1, 2],
        every: 1,
        parameters: {},
        factors: [{ parameter: 'p', values: [] }],
        wording: 'study Two ways',
        listed: { method: 'scenarios' as const, points: [[1], [2]], names: ['As it is', 'Other'] },
        outcomes: [{ name: 'few', condition: 'last of total < 3' }],
        digest: '',
      },
    ],
    observed: [
      {
        name: 'counts',
        csv: 'date,voles\n2031-03-01,3\n',
        mapping: { timeColumn: 'date', timeIs: 'date' as const, columns: [{ column: 'voles', measure: 'total' }] },
      },
      { name: 'later.csv', csv: 'date,voles\n2031-04-01,5\n' },
    ],
    tables: { 'repeat-rows.csv': 'run\n1\n' },
  };
  it('come back as they were', () => expect(readBundle(writeBundle(bundle))).toEqual(bundle));
  it.each([
    ['points of another number of factors', { points: [[1, 2]] }],
    ['rows of points that are not there', { points: [[1]], rows: [1] }],
  ])('with %s are refused', (_, listed) => {
    const wrong = { ...bundle.studies[1]!, listed: { method: 'random' as const, ...listed } };
    expect(() => readBundle(writeBundle({ ...bundle, studies: [wrong] }))).toThrow(BundleError);
  });
  it('are refused with a reason when cut, damaged or of another kind', () => {
    const bytes = writeBundle(bundle);
    for (const broken of [bytes.slice(0, bytes.length / 2), bytes.slice(0, 10), strToU8('hello'), new Uint8Array(0)])
      expect(() => readBundle(broken)).toThrow(BundleError);
    expect(() => readBundle(zipSync({ 'a.txt': strToU8('x') }))).toThrow(/no bundle of Vole Parade/);
    expect(() => readBundle(zipSync({ 'manifest.json': strToU8('{"format":1}'), 'model.vole': strToU8('') }))).toThrow(
      /does not fit/,
    );
    expect(() => readBundle(zipSync({ 'manifest.json': strToU8('{'), 'model.vole': strToU8('') }))).toThrow(/damaged/);
  });
  it('checksums see every bit and the sign of nothing else', () => {
    expect(digestOf([Float64Array.of(1, 2)])).toBe(digestOf([Float64Array.of(1), Float64Array.of(2)]));
    expect(digestOf([Float64Array.of(1, 2)])).not.toBe(digestOf([Float64Array.of(1, 2.0000000000000004)]));
  });
});
