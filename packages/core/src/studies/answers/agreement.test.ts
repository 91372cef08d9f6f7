import { describe, expect, it } from 'vitest';
import { studiedModel } from '../../../test/models.ts';
import { compilePlan } from '../../load.ts';
import type { Design } from '../design/design.ts';
import { jobsOf } from '../design/design.ts';
import { MatchSearch } from '../match/calibration/match-search.ts';
import { readCsv } from '../match/observed-csv.ts';
import type { MatchDefinition } from '../match/read-match.ts';
import { readMatch } from '../match/read-match.ts';
import { blockOf } from '../results/block.ts';
import { StudyResults } from '../results/study-results.ts';
import { simulate } from '../runner/simulate.ts';
import type { AskedStudy } from './answer.ts';
import { rankingOver } from './agreement.ts';
import { answerTo } from './answer.ts';

/** A level that rises by `slope` a day, a little more or less by luck; what is seen of it is a share. */
const MODEL = `model Rise
clock
  step 1 day from 2031-03-01
  end after 20 days
parameter slope = 2, from 0 to 9
parameter catch_rate = 0.5, from 0 to 1
variable level = 0
behaviour rise
  level += slope + uniform(-0.5, 0.5)
agent Vole
  start 1
order
  rise
measure height = level
`;
const model = studiedModel(MODEL);
const { plan } = model.loaded;
const compiled = compilePlan(plan);

function matchOf(lines: string, csv: string): MatchDefinition {
  const text = `match Rise\nobserved "seen.csv"\n${lines}`;
  const { match, diagnostics } = readMatch(text, model, new Map([['seen.csv', readCsv(csv)]]));
  expect(diagnostics).toEqual([]);
  return match!;
}

const DAYS = [4, 8, 12, 16];
const SEEN = `day,height\n${DAYS.map((day) => `${day},${day}`).join('\n')}\n`;
const TIE = 'time is days\nheight * catch_rate from column height\nhold out from 12 days\n';

/** A study of some slopes with some seeds, all of whose runs are there. */
function studied(slopes: readonly number[], seeds: readonly number[], match: MatchDefinition): AskedStudy {
  const design: Design = { is: 'every combination', factors: [{ parameter: 'slope', values: slopes }], seeds };
  const parameters = { catch_rate: 0.5 };
  const results = new StudyResults();
  const jobs = [...jobsOf({ design, parameters, every: 1 }, plan)];
  results.add(blockOf(jobs.map((job) => ({ point: job.point, seed: job.seed, outcome: simulate(compiled, job)! }))));
  return { plan, design, results, text: MODEL, parameters, match };
}

const SEEDS = Array.from({ length: 30 }, (_, i) => i + 1);

describe('how runs agree with what was observed', () => {
  const study = studied([2, 3], SEEDS, matchOf(TIE, SEEN));
  const good = 'slope=2';

  it('is told of each observation and between them, used and held out apart', () => {
    const answer = answerTo(study, { is: 'agreement', of: '', point: good })!;
    expect([answer.runs, answer.all, answer.series.length]).toEqual([30, 30, 1]);
    const [series] = answer.series;
    // What is seen is half of a level of 2 a day; the step that ends day 4 has risen four times.
    series!.observations.forEach(({ time, value, median, low90, high90, error, isHeldOut }, i) => {
      expect([time, value, error, isHeldOut]).toEqual([DAYS[i], DAYS[i], 0, i >= 2]);
      expect(Math.abs(median - value)).toBeLessThan(0.5);
      expect(high90 - low90).toBeGreaterThan(0.2);
      expect(high90 - low90).toBeLessThan(2);
    });
    expect([series!.used!.points, series!.heldOut!.points]).toEqual([2, 2]);
    const { fan } = series!;
    expect(fan.times).toEqual(Array.from({ length: 21 }, (_, day) => day));
    expect(fan.median[10]).toBeGreaterThan(fan.median[9]!);
    for (const day of DAYS)
      expect(fan.median[day]).toBeCloseTo(series!.observations.find(({ time }) => time === day)!.median, 10);
  });

  it('is that of all points where none is named, and none of a point that is not there', () => {
    expect(answerTo(study, { is: 'agreement', of: '' })!.all).toBe(60);
    expect(answerTo(study, { is: 'agreement', of: '', point: 'slope=4' })).toBeUndefined();
    expect(answerTo({ ...study, match: undefined }, { is: 'agreement', of: '' })).toBeUndefined();
  });

  it('includes the error of observing, smoothly over time', () => {
    const wide = { ...study, match: matchOf(TIE.replace('column height', 'column height, error 3'), SEEN) };
    const { fan, observations } = answerTo(wide, { is: 'agreement', of: '', point: good })!.series[0]!;
    expect(observations.every(({ error }) => error === 3)).toBe(true);
    const widths = fan.times.map((_, i) => fan.high90[i]! - fan.low90[i]!);
    // Nine tenths of a normal law of 3, and a little more for the runs.
    for (const width of widths.slice(1)) expect(Math.abs(width / (2 * 1.645 * 3) - 1)).toBeLessThan(0.15);
    for (let i = 2; i < widths.length; i++) expect(Math.abs(widths[i]! - widths[i - 1]!)).toBeLessThan(0.6);
  });

  it('begins with the first total, as before it an interval would be cut off', () => {
    const totals = matchOf(TIE.replace('column height', 'column height, total over the interval'), SEEN);
    const { fan } = answerTo({ ...study, match: totals }, { is: 'agreement', of: '', point: good })!.series[0]!;
    expect(fan.times[0]).toBe(4);
    // Four days of a level about 2 a day, halved: 1 + 2 + 3 + 4, less what the start is below.
    expect(fan.median[0]).toBeGreaterThan(9);
    expect(fan.median[0]).toBeLessThan(11);
  });

  it('at a date is told with what was observed there', () => {
    const answer = answerTo(study, { is: 'at a date', series: 0, time: 8, of: '', point: good })!;
    expect([answer.observed, answer.runs, answer.values.length]).toEqual([[8], 30, 30]);
    expect([...answer.values]).toEqual([...answer.values].sort((a, b) => a - b));
    expect(answerTo(study, { is: 'at a date', series: 0, time: 7, of: '' })).toBeUndefined();
    expect(answerTo(study, { is: 'at a date', series: 3, time: 8, of: '' })).toBeUndefined();
  });

  it('finds the run that lies nearest to a value at a time, with its values', () => {
    const steep = answerTo(study, { is: 'nearest run', series: 0, time: 10, value: 100, of: '' })!;
    expect(steep.parameters).toEqual([3, 0.5]);
    expect(steep.value).toBeGreaterThan(14);
    const flat = answerTo(study, { is: 'nearest run', series: 0, time: 10, value: 0, of: '', point: good })!;
    const all = answerTo(study, { is: 'agreement', of: '', point: good })!.series[0]!.fan;
    expect(flat.value).toBeLessThanOrEqual(all.low90[10]!);
    expect([flat.steps, SEEDS.includes(flat.seed)]).toEqual([20, true]);
    expect(answerTo(study, { is: 'nearest run', series: 7, time: 10, value: 0, of: '' })).toBeUndefined();
  });

  it('compares fewer runs where there are very many observations', () => {
    const often = `day,height\n${Array.from({ length: 1500 }, (_, i) => `${(i / 75).toFixed(4)},${i / 75}`).join('\n')}\n`;
    const many = studied(
      [2],
      Array.from({ length: 80 }, (_, i) => i + 1),
      matchOf(TIE.replace(/hold.*\n/, ''), often),
    );
    const answer = answerTo(many, { is: 'agreement', of: '' })!;
    expect([answer.runs, answer.all]).toEqual([66, 80]);
  });

  it('ranks points, with differences over runs of the same seed', () => {
    const wish = { is: 'ranking', series: 0, part: 'used', score: 'meanAbsoluteError', of: '' } as const;
    const { points: ranked, ...counts } = answerTo(study, { ...wish, most: 5 });
    expect(counts).toEqual({ all: 2, ranked: 2 });
    expect(answerTo(study, { ...wish, most: 1 }).points).toEqual(ranked.slice(0, 1));
    expect(ranked.map(({ place }) => place)).toEqual([0, 1]);
    expect(ranked[0]!.difference).toBeUndefined();
    const { difference, score } = ranked[1]!;
    // A half more a day: 2 too much after four days, 4 after eight.
    expect(score.value).toBeCloseTo(3, 0);
    expect(difference!.pairs).toBe(30);
    expect(difference!.value).toBeCloseTo(score.value - ranked[0]!.score.value, 10);
    // Luck is shared, so that the difference is known much better than either score.
    expect(difference!.high - difference!.low).toBeLessThan(0.5);
  });

  it('ranks points of several studies together, paired by seed, and passes over one that the match does not fit', () => {
    const wish = { is: 'ranking', series: 0, part: 'used', score: 'meanAbsoluteError', of: '', most: 9 } as const;
    const other = studied([2.1], SEEDS.slice(10), matchOf(TIE, SEEN));
    const unfit: AskedStudy = { plan: study.plan, design: study.design, results: study.results };
    const { points, all, ranked } = rankingOver([study, unfit, other], wish);
    expect([all, ranked]).toEqual([5, 5]);
    expect(points.map(({ study: of, place, runs }) => [of, place, runs])).toEqual([
      [0, 0, 30],
      [2, 0, 20],
      [0, 1, 30],
    ]);
    expect(points.map(({ difference }) => difference?.pairs)).toEqual([undefined, 20, 30]);
    const alone = rankingOver([study], wish).points;
    expect(points[2]).toEqual(alone[1]);
  });

  it('ranks the first of very many points, and says so', () => {
    const slopes = Array.from({ length: 300 }, (_, i) => i / 50);
    const many = studied(slopes, [1], matchOf(TIE, SEEN));
    const answer = answerTo(many, { is: 'ranking', series: 0, part: 'used', score: 'bias', most: 3, of: '' });
    expect([answer.all, answer.ranked, answer.points.length]).toEqual([300, 200, 3]);
    // A slope of 2 stands in the middle of those; one run alone has neither an interval nor a pair to tell of.
    expect(Math.abs(slopes[answer.points[0]!.place]! - 2)).toBeLessThan(0.3);
    expect(answer.points.every(({ difference }) => difference === undefined)).toBe(true);
  });

  it('ranks a bias by its distance from 0, and shares by theirs from what the band promises', () => {
    const three = studied([1, 2, 4], SEEDS.slice(0, 10), matchOf(TIE, SEEN));
    const order = (score: 'bias' | 'inside90' | 'skillAgainstMean') =>
      answerTo(three, { is: 'ranking', series: 0, part: 'used', score, most: 9, of: '' }).points.map(
        ({ place }) => place,
      );
    expect(order('bias')).toEqual([1, 0, 2]);
    expect(order('inside90')[0]).toBe(1);
    expect(order('skillAgainstMean')).toEqual([1, 0, 2]);
  });
});

describe('a study that looks for what agrees', () => {
  const FIND = `${TIE}find slope 0 to 6\nby sequential monte carlo, 30 draws, at most 300 runs\n`;

  /** Answers as the page asks for them: runs by what is next, results in blocks, until nothing is next. */
  function searched(match: MatchDefinition, results = new StudyResults(), most = Infinity) {
    const search = new MatchSearch(match, plan, (point, seed) => results.outcome(point, seed));
    const design: Design = { is: 'every combination', factors: [], seeds: [1] };
    const study: AskedStudy = { plan, design, results, text: MODEL, parameters: { catch_rate: 0.5 }, match, search };
    let ran = 0;
    for (;;) {
      const jobs = answerTo(study, { is: 'next runs' }).slice(0, 50);
      if (jobs.length === 0 || ran >= most) return { study, ran };
      results.add(
        blockOf(jobs.map((job) => ({ point: job.point, seed: job.seed, outcome: simulate(compiled, job)! }))),
      );
      ran += jobs.length;
    }
  }

  it('finds the hidden slope, narrows on the way, and shows what it predicts', () => {
    const match = matchOf(FIND, SEEN);
    const { study, ran } = searched(match);
    const whole = answerTo(study, { is: 'posterior' });
    expect(whole).toMatchObject({ runs: ran, mostRuns: 300, isDone: true });
    const [finding] = whole.found!.findings;
    expect(finding).toMatchObject({ parameter: 'slope' });
    expect(finding!.low).toBeLessThan(2);
    expect(finding!.high).toBeGreaterThan(2);
    expect(finding!.narrowing).toBeGreaterThan(0.8);
    const agreement = answerTo(study, { is: 'agreement', of: '' })!;
    expect(agreement.runs).toBe(30);
    expect(agreement.series[0]!.heldOut!.points).toBe(2);
    const half = searched(match, new StudyResults(), 120).study;
    const early = answerTo(half, { is: 'posterior' });
    expect(early.isDone).toBe(false);
    expect(early.found!.findings[0]!.narrowing).toBeLessThan(finding!.narrowing);
    expect(answerTo(half, { is: 'digest' })).toBe('');
  });

  it('is broken off and gone on with to the same posterior, of which the digest tells', () => {
    const match = matchOf(FIND, SEEN);
    const whole = searched(match);
    const half = searched(match, new StudyResults(), 130);
    const again = searched(match, half.study.results);
    expect(half.ran + again.ran).toBe(whole.ran);
    const digest = answerTo(whole.study, { is: 'digest' });
    expect(digest).toMatch(/^[0-9a-f]{32}$/);
    expect(answerTo(again.study, { is: 'digest' })).toBe(digest);
  });

  it('uses its runs again for another method', () => {
    const { study, ran } = searched(matchOf(FIND, SEEN));
    const other = matchOf(FIND.replace('sequential monte carlo', 'rejection'), SEEN);
    const anew = searched(other, new StudyResults());
    const after = searched(other, study.results);
    expect(answerTo(after.study, { is: 'digest' })).toBe(answerTo(anew.study, { is: 'digest' }));
    // The pilots and what was drawn from the prior are the same.
    expect(after.ran).toBeLessThanOrEqual(anew.ran - 90);
    expect(ran).toBeGreaterThan(90);
  });

  it('writes the tables of the command line', () => {
    const { study } = searched(matchOf(FIND, SEEN));
    const { scores, predictive, posterior } = answerTo(study, { is: 'match tables', of: '' })!;
    expect(scores[0]).toEqual(['series', 'score', 'value', 'low', 'high']);
    expect(predictive).toHaveLength(1 + DAYS.length);
    expect(posterior).toHaveLength(1 + 30);
  });

  it('says why it finds nothing, and is none where it seeks nothing', () => {
    const late = matchOf(FIND.replace('hold out from 12 days\n', ''), 'day,height\n400,3\n500,4\n');
    const { study } = searched(late);
    expect(answerTo(study, { is: 'posterior' })).toMatchObject({
      isDone: true,
      problem: expect.stringContaining('do not reach') as string,
    });
    expect(() => answerTo({ ...study, search: undefined }, { is: 'posterior' })).toThrow(/does not look for/);
  });
});
