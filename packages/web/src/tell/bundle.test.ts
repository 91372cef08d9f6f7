import 'fake-indexeddb/auto';
import type { FinishedRun, Plan, ResultTable } from '@vole/core';
import {
  answerTo,
  blockOf,
  compilePlan,
  designOf,
  encodeBlock,
  jobsOf,
  loadModel,
  readBundle,
  settingOf,
  simulate,
  StudyResults,
  textDigest,
  writeBundle,
} from '@vole/core';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { blockRow, WorkerInPlay } from '../../test/workers-in-play.ts';
import { layersOf } from '../simulation/layers.ts';
import { addRuns, openAnswers } from '../studies/answers.ts';
import { repository } from '../storage/repository.ts';
import type { StudyRow } from '../storage/schema.ts';
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

beforeAll(() => {
  vi.stubGlobal('Worker', WorkerInPlay);
});
afterAll(() => vi.unstubAllGlobals());

function run(s: StudyRow): FinishedRun[] {
  const compiled = compilePlan(plan);
  return [...jobsOf(settingOf(s), plan)].map((job) => ({
    point: job.point,
    seed: job.seed,
    outcome: simulate(compiled, job)!,
  }));
}

/** A study with its results, as answers see it. */
function asked(s: StudyRow, runs: readonly FinishedRun[]) {
  const results = new StudyResults();
  results.add(blockOf(runs));
  return { plan, design: designOf(s), results };
}
const digestOf = (s: StudyRow, runs: readonly FinishedRun[]): string => answerTo(asked(s, runs), { is: 'digest' });
const tableOf = (s: StudyRow, runs: readonly FinishedRun[], what: ResultTable): string[] =>
  answerTo(asked(s, runs), { is: 'table', what }).trim().split('\n');

describe('the runs of a study', () => {
  it('share their luck: the same seed with the same values gives the same run in any study', () => {
    const alone = run(study('p', [], [9]))[0]!;
    const among = run(study('p', [{ parameter: 'n', values: [2, 3] }]))[3]!;
    expect(among.outcome).toEqual(alone.outcome);
  });
});

describe('a bundle', () => {
  it('holds model, notes, data, and every study with its results as tables and a checksum', async () => {
    const project = await repository.addProject('Pairs', TEXT, 'what I found');
    await repository.keepObserved({ projectId: project.id, name: 'seen.csv', csv: 'day,total\n1,2\n' });
    const vary = study(project.id, [{ parameter: 'n', values: [1, 5] }]);
    const results = run(vary);
    await repository.keepStudy(vary, [blockRow(vary, results)]);
    const back = readBundle(
      writeBundle(
        (await bundleOf({ project, match: '', observed: await repository.observed(project.id), shown: [] })).bundle,
      ),
    );
    expect(back.project).toEqual({ name: 'Pairs', notes: 'what I found' });
    expect(back.model).toBe(TEXT);
    expect(back.observed[0]!.csv).toContain('1,2');
    expect(back.studies).toMatchObject([
      { kind: 'vary', seeds: [4, 9], factors: [{ parameter: 'n', values: [1, 5] }], digest: digestOf(vary, results) },
    ]);
    expect(JSON.parse(back.tables['record.json']!)).toEqual({
      done: [
        { at: '1970-01-01T00:00:00.001Z', what: 'vary “Vary” begun', text: textDigest(TEXT), engine: 'not known' },
      ],
      now: { text: textDigest(TEXT), tables: { 'seen.csv': textDigest('day,total\n1,2\n') } },
    });
    expect(back.studies[0]!.text).toBeUndefined();
    expect(back.tables['vary-rows.csv']!.split('\n')[0]).toBe('run,seed,n,step,time [days],total,up');
    expect(back.tables['vary-rows.csv']!.trim().split('\n')).toHaveLength(1 + 4 * 3);
  });
  it('gives no checksum for a study that is not finished, and keeps the text it was made with', async () => {
    const project = await repository.addProject('Half', `${TEXT}# later\n`);
    const vary = study(project.id, [{ parameter: 'n', values: [1, 5] }]);
    const [first] = run(vary);
    await repository.keepStudy(vary, [blockRow(vary, [first!])]);
    const { bundle } = await bundleOf({ project, match: '', observed: [], shown: [] });
    expect(bundle.studies[0]).toMatchObject({ digest: '', text: TEXT });
  });
  it('tables number runs by their place, also when some are missing', () => {
    const vary = study('p', [{ parameter: 'n', values: [1, 5] }]);
    const summaries = tableOf(
      vary,
      run(vary).filter((_, place) => place !== 1),
      'summaries',
    );
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
    match: '',
    observed: [],
  };
  it('holds the text and the results as they are there, stored or not', async () => {
    const vary = study('nowhere', [{ parameter: 'n', values: [1, 5] }]);
    const runs = run(vary);
    await openAnswers(vary, false);
    addRuns(vary.id, encodeBlock(blockOf(runs), textDigest(TEXT)));
    const { bundle, unread } = await bundleOf({ ...page, shown: [vary] });
    expect(bundle).toMatchObject({
      model: page.project.text,
      project: { notes: 'not stored' },
      studies: [{ digest: digestOf(vary, runs), text: TEXT }],
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
    if (!one || !('result' in one.outcome)) throw new Error('A run failed');
    const result = { ...one.outcome.result, steps: 1e6, rows: new Float64Array(2 * 5e5) };
    const seeds = Array.from({ length: 20 }, (_, i) => i);
    const many = { ...vary, id: 'many', name: 'Long', seeds, factors: [] };
    await openAnswers(many, false);
    for (const seed of seeds)
      addRuns(many.id, encodeBlock(blockOf([{ point: '', seed, outcome: { result: { ...result, seed } } }]), ''));
    await openAnswers(vary, false);
    const { bundle, leftOut } = await bundleOf({ ...page, shown: [many, vary] });
    expect(leftOut).toEqual(['Long']);
    expect(Object.keys(bundle.tables)).toEqual(['vary-2-rows.csv', 'vary-2-summaries.csv', 'record.json']);
    expect(readBundle(writeBundle(bundle)).studies).toHaveLength(2);
  });
  it('writes choices and yes or no as words', () => {
    const vary = study('p', [{ parameter: 'on', values: [0, 1] }], [4]);
    expect(
      tableOf(vary, run(vary), 'summaries')
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
