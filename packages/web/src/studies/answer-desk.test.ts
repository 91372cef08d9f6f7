import 'fake-indexeddb/auto';
import type { Design, Question, RankingAnswer } from '@vole/core';
import { blockOf, compilePlan, encodeBlock, jobsOf, loadModel, simulate } from '@vole/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { AnswerDesk } from './answer-desk.ts';

const TEXT = `model Rise
clock
  step 1 day from 2031-03-01
  end after 9 days
parameter slope = 2, from 0 to 9
variable level = 0
behaviour rise
  level += slope + uniform(-0.5, 0.5)
agent Vole
  start 1
order
  rise
measure height = level
`;
const { plan } = loadModel(TEXT).loaded!;
const MATCH = {
  text: 'match Seen\nobserved "seen.csv"\ntime is days\nheight from column height\n',
  tables: { 'seen.csv': 'day,height\n4,8\n8,16\n' },
};
const RANKING = { is: 'ranking', series: 0, part: 'used', score: 'meanAbsoluteError', most: 9, of: 'm' } as const;

function designOf(slopes: readonly number[]): Design {
  return { is: 'every combination', factors: [{ parameter: 'slope', values: slopes }], seeds: [1, 2, 3] };
}

let desk: AnswerDesk;
async function opened(study: string, slopes: readonly number[]): Promise<void> {
  const design = designOf(slopes);
  await desk.answer({ is: 'open', study, text: TEXT, design, outcomes: [], parameters: {}, stored: false });
  const compiled = compilePlan(plan);
  const runs = [...jobsOf({ design, parameters: {}, every: 1 }, plan)].map((job) => ({
    point: job.point,
    seed: job.seed,
    outcome: simulate(compiled, job)!,
  }));
  await desk.answer({ is: 'add', study, bytes: encodeBlock(blockOf(runs), TEXT) });
}
const asked = (study: string, question: Question): Promise<unknown> => desk.answer({ is: 'ask', study, question });

beforeEach(async () => {
  desk = new AnswerDesk();
  await desk.answer({ is: 'hold', match: MATCH });
});

describe('those who look at results', () => {
  it('rank the points of several studies together; one that is not at hand has none', async () => {
    await opened('a', [1, 2]);
    await opened('b', [2.2]);
    const { points, all } = (await asked('a', { ...RANKING, beside: ['gone', 'b'] })) as RankingAnswer;
    expect(points.map(({ study, place }) => [study, place])).toEqual([
      [0, 1],
      [2, 0],
      [0, 0],
    ]);
    expect(all).toBe(4);
    const alone = (await asked('a', RANKING)) as RankingAnswer;
    expect(alone.points.map(({ place }) => place)).toEqual([1, 0]);
  });

  it('say so where a study was never opened', async () => {
    await expect(asked('never', { is: 'outcomes' })).rejects.toThrow('no longer at hand');
  });
});
