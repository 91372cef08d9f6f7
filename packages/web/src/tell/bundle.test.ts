import 'fake-indexeddb/auto';
import { compilePlan, loadModel, readBundle, simulate, writeBundle } from '@vole/core';
import type { Plan, RunResult } from '@vole/core';
import { describe, expect, it, vi } from 'vitest';
import { layersOf } from '../simulation/frames.ts';
import { jobAt, jobCount } from '../studies/study-jobs.ts';
import { digestOfResults } from '../studies/study-runner.ts';
import { repository } from '../storage/repository.ts';
import type { StudyRow } from '../storage/schema.ts';
import { tablesOf } from '../studies/result-tables.ts';
import { bundleOf } from './make-bundle.ts';

const TEXT = `model Two kinds
clock
  step 1 day
  end after 4 days
parameter rate = 2 per week, from 0 to 9
parameter on = yes
parameter n = 3, whole from 1 to 9
agent A
  start n
  has v = 0
  behaviour go
    if on and chance(rate * 1 day)
      v += 1
agent B
  start 2
  states s
    Up
      after 2 days: Down
    Down
order
  go in turn
  s in turn
measure total = sum of it.v over A
measure up = count B where it.s is Up
summary most = max of total
`;

const plan: Plan = loadModel(TEXT).loaded!.plan;
const study = (projectId: string, factors: StudyRow['factors'], seeds = [4, 9]): StudyRow => ({
  id: `study ${projectId}`,
  projectId,
  kind: 'vary',
  name: 'Vary',
  text: TEXT,
  seeds,
  every: 2,
  parameters: { rate: 2 / 7, on: 1, n: 3 },
  factors,
  createdAt: 1,
  status: 'done',
});

const jobsOf = (s: StudyRow, of: Plan) => Array.from({ length: jobCount(s) }, (_, id) => jobAt(s, of, id));

function run(s: StudyRow): RunResult[] {
  const compiled = compilePlan(plan);
  return jobsOf(s, plan).map((job) => {
    const outcome = simulate(compiled, job);
    if (!outcome || 'failure' in outcome) throw new Error('A run failed');
    return outcome.result;
  });
}

describe('the jobs of a study', () => {
  it('go combination by combination, seeds within, values in the unit they are shown in', () => {
    const jobs = jobsOf(
      study('p', [
        { parameter: 'rate', values: [0, 7] },
        { parameter: 'n', values: [1, 5] },
      ]),
      plan,
    );
    expect(jobs.map((job) => [job.id, job.seed, ...job.parameters.map((v) => Math.round(v * 1e6) / 1e6)])).toEqual([
      [0, 4, 0, 1, 1],
      [1, 9, 0, 1, 1],
      [2, 4, 0, 1, 5],
      [3, 9, 0, 1, 5],
      [4, 4, 1, 1, 1],
      [5, 9, 1, 1, 1],
      [6, 4, 1, 1, 5],
      [7, 9, 1, 1, 5],
    ]);
    expect(jobs.every((job) => job.every === 2)).toBe(true);
  });
  it('without factors are one a seed, and a parameter that is gone is passed over', () => {
    expect(jobsOf(study('p', []), plan).map((job) => job.seed)).toEqual([4, 9]);
    expect(jobsOf(study('p', [{ parameter: 'gone', values: [1] }]), plan)[0]!.parameters).toEqual([2 / 7, 1, 3]);
  });
  it('share their luck: the same seed with the same values gives the same run in any study', () => {
    const alone = run(study('p', [], [9]))[0]!;
    const among = run(study('p', [{ parameter: 'n', values: [2, 3] }]))[3]!;
    expect(digestOfResults([among])).toBe(digestOfResults([alone]));
  });
});

describe('a bundle', () => {
  it('holds model, notes, data, and every study with its results as tables and a checksum', async () => {
    const project = await repository.addProject('Pairs', TEXT, 'what I found');
    await repository.setObserved({
      projectId: project.id,
      name: 'seen',
      csv: 'day,total\n1,2\n',
      mapping: { timeColumn: 'day', timeIs: 'time', columns: [{ column: 'total', measure: 'total' }] },
    });
    const vary = study(project.id, [{ parameter: 'n', values: [1, 5] }]);
    const results = run(vary);
    await repository.keepStudy(
      vary,
      results.map((r, index) => ({
        id: `${vary.id}:${index}`,
        studyId: vary.id,
        index,
        seed: r.seed,
        steps: r.steps,
        rows: r.rows.slice().buffer,
        summaries: r.summaries.slice().buffer,
        refused: 0,
      })),
    );
    const back = readBundle(
      writeBundle((await bundleOf({ project, observed: await repository.observed(project.id), shown: [] })).bundle),
    );
    expect(back.project).toEqual({ name: 'Pairs', notes: 'what I found' });
    expect(back.model).toBe(TEXT);
    expect(back.observed[0]!.csv).toContain('1,2');
    expect(back.studies).toMatchObject([
      { kind: 'vary', seeds: [4, 9], factors: [{ parameter: 'n', values: [1, 5] }], digest: digestOfResults(results) },
    ]);
    expect(back.studies[0]!.text).toBeUndefined();
    expect(back.tables['vary-rows.csv']!.split('\n')[0]).toBe('run,seed,n,step,time [days],total,up');
    expect(back.tables['vary-rows.csv']!.trim().split('\n')).toHaveLength(1 + 4 * 3);
  });
  it('gives no checksum for a study that is not finished, and keeps the text it was made with', async () => {
    const project = await repository.addProject('Half', `${TEXT}# later\n`);
    const vary = study(project.id, [{ parameter: 'n', values: [1, 5] }]);
    const [first] = run(vary);
    await repository.keepStudy(vary, [
      {
        id: `${vary.id}:0`,
        studyId: vary.id,
        index: 0,
        seed: first!.seed,
        steps: 4,
        rows: first!.rows.slice().buffer,
        summaries: first!.summaries.slice().buffer,
        refused: 0,
      },
    ]);
    const { bundle } = await bundleOf({ project, observed: undefined, shown: [] });
    expect(bundle.studies[0]).toMatchObject({ digest: '', text: TEXT });
  });
  it('tables number runs by their place, also when some are missing', () => {
    const vary = study('p', [{ parameter: 'n', values: [1, 5] }]);
    const results: (RunResult | undefined)[] = run(vary);
    results[1] = undefined;
    const summaries = tablesOf(vary, plan, results).summaries.trim().split('\n');
    expect(summaries[0]).toBe('run,seed,n,steps,most');
    expect(summaries.slice(1).map((line) => line.split(',').slice(0, 4).join(','))).toEqual([
      '1,4,1,4',
      '3,4,5,4',
      '4,9,5,4',
    ]);
  });
});

describe('a bundle of what is on the page', () => {
  const page = {
    project: { id: 'nowhere', name: 'Pairs', text: `${TEXT}# typed just now\n`, notes: 'not stored' },
    observed: undefined,
  };
  it('holds the text and the results as they are there, stored or not', async () => {
    const vary = study('nowhere', [{ parameter: 'n', values: [1, 5] }]);
    const results = run(vary);
    const { bundle, unread } = await bundleOf({ ...page, shown: [{ study: vary, results }] });
    expect(bundle).toMatchObject({
      model: page.project.text,
      project: { notes: 'not stored' },
      studies: [{ digest: digestOfResults(results), text: TEXT }],
    });
    expect(unread).toBe(0);
  });
  it('is made also when storage does not answer, and says that other studies may be missing', async () => {
    const broken = vi
      .spyOn(repository, 'studies')
      .mockRejectedValueOnce(new DOMException('gone', 'DatabaseClosedError'));
    const { bundle, unread } = await bundleOf({ ...page, shown: [] });
    broken.mockRestore();
    expect([bundle.model, unread]).toEqual([page.project.text, 1]);
  });
  it('leaves out tables that would not fit, and opens without them', async () => {
    const vary = study('nowhere', [{ parameter: 'n', values: [1, 5] }]);
    const [one] = run(vary);
    const long: RunResult = { ...one!, steps: 1e6, rows: new Float64Array(2 * 5e5) };
    const many = { ...vary, seeds: Array.from({ length: 20 }, (_, i) => i), factors: [] };
    const { bundle, leftOut } = await bundleOf({
      ...page,
      shown: [
        { study: many, results: Array(20).fill(long) as RunResult[] },
        { study: vary, results: run(vary) },
      ],
    });
    expect(leftOut).toEqual(['Vary']);
    expect(Object.keys(bundle.tables)).toEqual(['vary-2-rows.csv', 'vary-2-summaries.csv']);
    expect(readBundle(writeBundle(bundle)).studies).toHaveLength(2);
  });
  it('writes choices and yes or no as words', () => {
    const vary = study('p', [{ parameter: 'on', values: [0, 1] }], [4]);
    expect(
      tablesOf(vary, plan, run(vary))
        .summaries.trim()
        .split('\n')
        .slice(1)
        .map((line) => line.split(',').slice(0, 3).join(',')),
    ).toEqual(['1,4,no', '2,4,yes']);
  });
});

describe('the layers of the ribbon', () => {
  it('are the states that a show colours by, else the kinds', () => {
    expect(layersOf(plan).map((layer) => layer.name)).toEqual(['A', 'B']);
    const coloured = loadModel(
      TEXT.replace('clock\n', 'space S: plane 5 by 5\nclock\n')
        .replace('start n\n', 'start n anywhere\n')
        .replace('start 2\n', 'start 2 anywhere\n') + 'show B: leaf, colour by s\nshow A: dot\n',
    ).loaded!.plan;
    expect(layersOf(coloured).map((layer) => layer.name)).toEqual(['Up', 'Down']);
  });
});
