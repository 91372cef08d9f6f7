import { describe, expect, it } from 'vitest';
import { studiedModel } from '../../../test/models.ts';
import { compilePlan } from '../../load.ts';
import type { Design } from '../design/design.ts';
import { jobsOf } from '../design/design.ts';
import { readCsv } from '../match/observed-csv.ts';
import { readMatch } from '../match/read-match.ts';
import { blockOf } from '../results/block.ts';
import { StudyResults } from '../results/study-results.ts';
import { simulate } from '../runner/simulate.ts';
import type { AskedStudy } from './answer.ts';
import { answerTo } from './answer.ts';

const MODEL = `model Leaving
clock
  step 0.5 days from 2031-03-01
  end after 20 days
parameter risk = 0.2 per day, from 0 to 1
parameter founders = 800, whole
agent Vole
  start founders
  states life
    Stay
      rate risk: Away
    Away
measure staying = count Vole where it.life is Stay
measure moved = entered Away
`;

function studied(text: string, design: Design, csv?: string): AskedStudy {
  const model = studiedModel(text);
  const { plan } = model.loaded;
  const parameters = { founders: 1000 };
  const compiled = compilePlan(plan);
  const results = new StudyResults();
  const jobs = [...jobsOf({ design, parameters, every: 2 }, plan)];
  results.add(blockOf(jobs.map((job) => ({ point: job.point, seed: job.seed, outcome: simulate(compiled, job)! }))));
  const tables = new Map(csv === undefined ? [] : [['seen.csv', readCsv(csv)]]);
  const lines =
    'match Seen\nobserved "seen.csv"\ntime is days\nstaying / 10 from column seen, mean over the interval\n';
  const match = csv === undefined ? undefined : readMatch(lines, model, tables).match;
  return { plan, design, results, text, parameters, ...(match ? { match } : {}) };
}

const SEEDS = [1, 2, 3];
const ONE: Design = { is: 'every combination', factors: [], seeds: SEEDS };
const RISKS: Design = { is: 'every combination', factors: [{ parameter: 'risk', values: [0.1, 0.4] }], seeds: SEEDS };
const course = { of: [0], form: 'as measured' } as const;

describe('the well-mixed limit of a study', () => {
  it('is told at the kept steps, with the values of the study', () => {
    const answer = answerTo(studied(MODEL, ONE), { is: 'mean field', course });
    if ('obstacles' in answer) throw new Error('It has one.');
    expect(answer.times).toEqual(Array.from({ length: 21 }, (_, day) => day));
    answer.values.forEach((value, day) => expect(value).toBeCloseTo(1000 * Math.exp(-0.2 * day), 4));
    expect(answer.equations).toHaveLength(2);
    const flow = answerTo(studied(MODEL, ONE), { is: 'mean field', course: { of: [1], form: 'as measured' } });
    expect('values' in flow && flow.values.every(Number.isNaN)).toBe(true);
  });

  it('is that of a point, as an observer would have read it', () => {
    const study = studied(MODEL, RISKS, 'day,seen\n4,70\n8,40\n');
    const answer = answerTo(study, { is: 'mean field of a series', series: 0, of: '', point: 'risk=0.4' });
    if (!answer || 'obstacles' in answer) throw new Error('It has one.');
    const at = answer.times.indexOf(8);
    // The mean of the rows after day 4 up to day 8, at every second step.
    const rows = [5, 6, 7, 8].map((day) => 100 * Math.exp(-0.4 * day));
    expect(answer.values[at]).toBeCloseTo(rows.reduce((a, b) => a + b, 0) / rows.length, 4);
    expect(answerTo(study, { is: 'mean field of a series', series: 1, of: '' })).toBeUndefined();
  });

  it('is not there where lines of the text stand in its way', () => {
    const text = MODEL.replace('rate risk', 'after 3 days').replace('parameter risk = 0.2 per day, from 0 to 1\n', '');
    expect(answerTo(studied(text, ONE), { is: 'mean field', course })).toEqual({
      obstacles: [{ line: 10, message: expect.stringContaining('looks back in time') as string }],
    });
  });
});
