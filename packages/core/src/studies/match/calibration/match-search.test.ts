import { describe, expect, it } from 'vitest';
import { studiedModel } from '../../../../test/models.ts';
import { sheetRows } from '../../../language/sheet.ts';
import { compilePlan } from '../../../load.ts';
import type { FinishedRun } from '../../runner/run-study.ts';
import type { RunOutcome } from '../../runner/simulate.ts';
import { simulate } from '../../runner/simulate.ts';
import type { MatchDefinition } from '../read-match.ts';
import { readMatch } from '../read-match.ts';
import type { Posterior } from './match-search.ts';
import { drawnFromPrior } from './candidates.ts';
import { MatchSearch } from './match-search.ts';
import { Targets } from './targets.ts';

/** A line without luck of its own: what an observer writes of it is normal, so that the posterior is known exactly. */
const LINE = `model Line
clock
  step 1 day
  end after 10 days
parameter height = 0, from -100 to 100
parameter slope = 0, from -100 to 100
variable level = 0
behaviour rise
  level = height + slope * (now / 1 day)
agent Vole
  start 1
order
  rise
measure line = level
`;
const TIMES = [2, 4, 6, 8, 10];
const SD = 0.5;
const OBSERVED = [1.9, 2.2, 3.9, 3.6, 5.1];
const PRIOR = { height: { mean: 0, sd: 2 }, slope: { mean: 0, sd: 1 } };
const model = studiedModel(LINE);
const compiled = compilePlan(model.loaded.plan);

function matchOf(lines: string): MatchDefinition {
  const [header, ...rows] = sheetRows(`day,level\n${TIMES.map((time, i) => `${time},${OBSERVED[i]}`).join('\n')}\n`);
  const { match, diagnostics } = readMatch(
    `match Line\nobserved "line.csv"\ntime is days\nline from column level, error ${SD}\n${lines}`,
    model,
    new Map([['line.csv', { header: header!.cells, rows }]]),
  );
  expect(diagnostics).toEqual([]);
  return match!;
}

/** Runs a search to its end, runs of a batch in the order that is asked for. */
function searched(
  match: MatchDefinition,
  known?: (point: string, seed: number) => RunOutcome | undefined,
  backwards = false,
) {
  const search = new MatchSearch(match, model.loaded.plan, known);
  const done: FinishedRun[] = [];
  for (;;) {
    const jobs = [];
    for (let job = search.next(); job; job = search.next()) jobs.push(job);
    if (jobs.length === 0) return { search, posterior: search.posterior!, done };
    for (const job of backwards ? jobs.reverse() : jobs) {
      const run = { point: job.point, seed: job.seed, outcome: simulate(compiled, job)! };
      done.push(run);
      search.took(run);
    }
  }
}

/** Mean and covariance of the posterior of a Bayesian straight line (D. Lindley and A. Smith, J. Roy. Statist. Soc. B 34 (1972), 1-41). The first row of the run is before the first step. */
function exactPosterior() {
  const seen = TIMES.map((time) => time - 1);
  const sum = (of: (time: number, i: number) => number): number =>
    seen.reduce((total, time, i) => total + of(time, i), 0) / SD ** 2;
  const [a, b, c] = [
    sum(() => 1) + 1 / PRIOR.height.sd ** 2,
    sum((t) => t),
    sum((t) => t * t) + 1 / PRIOR.slope.sd ** 2,
  ];
  const [p, q] = [sum((_, i) => OBSERVED[i]!), sum((t, i) => t * OBSERVED[i]!)];
  const det = a * c - b * b;
  return {
    mean: [(c * p - b * q) / det, (a * q - b * p) / det],
    sd: [Math.sqrt(c / det), Math.sqrt(a / det)],
    correlation: -b / Math.sqrt(a * c),
  };
}

function moments({ draws, weights }: Posterior) {
  const mean = [0, 1].map((k) => draws.reduce((sum, draw, i) => sum + weights[i]! * draw[k]!, 0));
  const product = (j: number, k: number): number =>
    draws.reduce((sum, draw, i) => sum + weights[i]! * (draw[j]! - mean[j]!) * (draw[k]! - mean[k]!), 0);
  const sd = [Math.sqrt(product(0, 0)), Math.sqrt(product(1, 1))];
  return { mean, sd, correlation: product(0, 1) / (sd[0]! * sd[1]!) };
}

const FIND = 'find height normal(0, 2)\nfind slope normal(0, 1)\n';

describe('what agrees with what was observed', () => {
  it.each([
    ['rejection', 'by rejection, 400 draws, at most 12000 runs'],
    ['sequential Monte Carlo', 'by sequential monte carlo, 400 draws, at most 12000 runs'],
    ['synthetic likelihood', 'by synthetic likelihood, 400 draws, at most 30000 runs'],
  ])('is the exact posterior of a line with normal errors, by %s', (_, by) => {
    const { posterior } = searched(matchOf(`${FIND}${by}\n`));
    const exact = exactPosterior();
    const found = moments(posterior);
    expect(posterior.isAdjusted).toBe(!by.includes('synthetic'));
    for (const k of [0, 1]) {
      expect(Math.abs(found.mean[k]! - exact.mean[k]!) / exact.sd[k]!).toBeLessThan(0.2);
      expect(found.sd[k]! / exact.sd[k]!).toBeGreaterThan(0.8);
      expect(found.sd[k]! / exact.sd[k]!).toBeLessThan(1.25);
    }
    expect(Math.abs(found.correlation - exact.correlation)).toBeLessThan(0.15);
    expect(posterior.weights.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 10);
    expect(posterior.effective).toBeLessThanOrEqual(400);
  });

  it('is not ruled out by history matching, which leaves little of what was thought possible', () => {
    const { posterior, search } = searched(matchOf(`${FIND}by history matching, 200 draws, at most 1500 runs\n`));
    expect(posterior.method).toBe('history matching');
    expect(posterior.rounds).toBeGreaterThan(1);
    expect(search.runs).toBeLessThanOrEqual(1500);
    // What is ruled out is known here: where two observations or more lie three standard deviations away.
    const isLeft = (height: number, slope: number, sds: number): boolean =>
      TIMES.filter((time, i) => Math.abs(height + slope * (time - 1) - OBSERVED[i]!) > sds * SD).length <= 1;
    expect(posterior.draws.every(([height, slope]) => isLeft(height!, slope!, 3.4))).toBe(true);
    const prior = Array.from({ length: 20000 }, (_, i) => drawnFromPrior(2, 9, i));
    const share = prior.filter(([z, w]) => isLeft(2 * z!, w!, 3)).length / prior.length;
    expect(posterior.left! / share).toBeGreaterThan(0.8);
    expect(posterior.left! / share).toBeLessThan(1.25);
    const reach = (k: number): number[] => {
      const values = posterior.draws.map((draw) => draw[k]!);
      return [Math.min(...values), Math.max(...values)];
    };
    const exact = exactPosterior();
    for (const k of [0, 1]) {
      expect(reach(k)[0]).toBeLessThan(exact.mean[k]! - exact.sd[k]!);
      expect(reach(k)[1]).toBeGreaterThan(exact.mean[k]! + exact.sd[k]!);
    }
    const again = searched(matchOf(`${FIND}by history matching, 200 draws, at most 1500 runs\n`), undefined, true);
    expect(again.posterior.draws).toEqual(posterior.draws);
  });

  it.each([
    [
      'history matching',
      'find height 40 to 50\nfind slope 20 to 30\nby history matching, 20 draws, at most 900 runs',
      'are ruled out',
    ],
    [
      'history matching with few runs',
      `${FIND}by history matching, 200 draws, at most 500 runs`,
      'with 200 draws, 2 unknowns and 5 observations takes at least',
    ],
    [
      'synthetic likelihood with few runs',
      `${FIND}by synthetic likelihood, 200 draws, at most 2000 runs`,
      'takes at least 4094 runs',
    ],
  ])('is not found by %s where there is none, and it is said why', (_, lines, why) => {
    const { search, posterior } = searched(matchOf(`${lines}\n`));
    expect(posterior).toBeUndefined();
    expect(search.problem).toContain(why);
  });

  const SMALL = `${FIND}by sequential monte carlo, 50 draws, at most 600 runs\n`;

  it('is the same whatever the order in which runs end, and keeps to its budget', () => {
    const forwards = searched(matchOf(SMALL));
    const backwards = searched(matchOf(SMALL), undefined, true);
    expect(backwards.posterior).toEqual(forwards.posterior);
    expect(forwards.search.runs).toBe(forwards.done.length);
    expect(forwards.done.length).toBeLessThanOrEqual(600);
    expect(forwards.search.predictive).toHaveLength(50);
    expect(new Set(forwards.done.map(({ point, seed }) => `${seed} ${point}`)).size).toBe(forwards.done.length);
  });

  it('is the same where it is only told what is known, in whatever order runs become known and however often it is asked', () => {
    const match = matchOf(SMALL);
    const there = new Map<string, RunOutcome>();
    const search = new MatchSearch(match, model.loaded.plan, (point, seed) => there.get(`${point} ${seed}`));
    for (let jobs = search.missingJobs(); jobs.length > 0; jobs = search.missingJobs()) {
      // The later ones first, and the search looked at in between.
      const [first, ...others] = jobs;
      for (const job of [...others, first!]) {
        there.set(`${job.point} ${job.seed}`, simulate(compiled, job)!);
        if (job.seed % 7 === 0) search.missingJobs();
      }
    }
    const told = searched(match);
    expect(search.posterior).toEqual(told.posterior);
    expect(search.runs).toBe(told.search.runs);
    expect(there.size).toBe(search.runs);
  });

  it('is gone on with where it was broken off, and with a larger budget, without running anything twice', () => {
    const whole = searched(matchOf(SMALL));
    const kept = new Map(whole.done.slice(0, 237).map((run) => [`${run.seed} ${run.point}`, run.outcome]));
    const again = searched(matchOf(SMALL), (point, seed) => kept.get(`${seed} ${point}`));
    expect(again.posterior).toEqual(whole.posterior);
    expect(again.done).toHaveLength(whole.done.length - 237);
    const all = new Map(whole.done.map((run) => [`${run.seed} ${run.point}`, run.outcome]));
    const larger = searched(matchOf(SMALL.replace('600', '900')), (point, seed) => all.get(`${seed} ${point}`));
    const fresh = searched(matchOf(SMALL.replace('600', '900')));
    expect(larger.posterior).toEqual(fresh.posterior);
    // All but those that showed what the smaller one predicts.
    expect(larger.done.length).toBe(fresh.done.length - (whole.done.length - 50));
  });

  it('finds the point at which runs lie nearest, by itself and the same again', () => {
    const match = matchOf('find height -6 to 6\nfind slope -3 to 3\nby best point, at most 6000 runs\n');
    const { search, posterior, done } = searched(match);
    expect(posterior).toBeUndefined();
    const { parameters, values, reach } = search.bestPoint!;
    expect(parameters).toEqual(['height', 'slope']);
    // The line of least squares through what was observed: errors are the same everywhere.
    const seen = TIMES.map((time) => time - 1);
    const [meanX, meanY] = [seen, OBSERVED].map((list) => list.reduce((a, b) => a + b, 0) / list.length) as [
      number,
      number,
    ];
    const slope =
      seen.reduce((sum, x, i) => sum + (x - meanX) * (OBSERVED[i]! - meanY), 0) /
      seen.reduce((sum, x) => sum + (x - meanX) ** 2, 0);
    expect(Math.abs(values[1]! - slope)).toBeLessThan(0.05);
    expect(Math.abs(values[0]! - (meanY - slope * meanX))).toBeLessThan(0.2);
    expect(reach).toBeLessThan(0.1);
    expect(done.length).toBeLessThanOrEqual(6000);
    expect(search.predictive).toHaveLength(100);
    expect(searched(match, undefined, true).search.bestPoint).toEqual(search.bestPoint);
  });

  it('finds one unknown alone, and nothing where no run reaches what was observed', () => {
    const one = matchOf('find slope -3 to 3\nset height = 1\nby best point, at most 2000 runs\n');
    expect(searched(one).search.bestPoint!.values[0]).toBeCloseTo(0.46, 1);
    const late = {
      ...one,
      series: one.series.map((each) => ({ ...each, observations: [{ time: 99, since: 0, value: 1 }] })),
    };
    expect(searched(late).search).toMatchObject({
      bestPoint: undefined,
      problem: expect.stringContaining('do not reach') as string,
    });
  });

  it('counts distances where all pilots say the same in a share of the greatest of the series, so that nought is a target too', () => {
    const { series } = matchOf(SMALL);
    const four = { ...series[0]!, observations: [400, 0].map((value, i) => ({ time: i + 1, since: i, value })) };
    const targets = Targets.from([four], undefined, [[Float64Array.of(5, 0)], [Float64Array.of(5, 0)]]);
    expect(targets.distance([400, 0])).toBe(0);
    expect(targets.distance([400, 0.8])).toBeCloseTo(Math.sqrt(2), 12);
    const nothing = { ...four, observations: [{ time: 1, since: 0, value: 0 }] };
    expect(Targets.from([nothing], undefined, [[Float64Array.of(0)]]).distance([3])).toBe(3);
  });

  it('tells of the draws it has after each round', () => {
    const search = new MatchSearch(matchOf(SMALL), model.loaded.plan);
    const seen: number[] = [];
    for (let job = search.next(); job; job = search.next()) {
      search.took({ point: job.point, seed: job.seed, outcome: simulate(compiled, job)! });
      if (search.posterior && search.posterior.tolerance !== seen.at(-1)) seen.push(search.posterior.tolerance);
    }
    expect(seen.length).toBeGreaterThan(2);
    expect([...seen].sort((a, b) => b - a)).toEqual(seen);
  });

  it('is nothing where no run comes to its end', () => {
    const search = new MatchSearch(matchOf(SMALL), model.loaded.plan);
    for (let job = search.next(); job; job = search.next())
      search.took({
        point: job.point,
        seed: job.seed,
        outcome: {
          seed: job.seed,
          failure: { severity: 'error', code: 'run/not-finite', message: 'It broke.', span: { start: 0, end: 0 } },
        },
      });
    expect(search.posterior).toBeUndefined();
    expect(search.predictive).toEqual([]);
    expect(search.problem).toBe('no run at the middle of the priors came to its end');
  });

  it('says so where the runs end before anything was observed', () => {
    const match = matchOf(SMALL);
    const late = match.series.map((each) => ({
      ...each,
      observations: each.observations.map((one) => ({ ...one, time: one.time + 100 })),
    }));
    const search = new MatchSearch({ ...match, series: late }, model.loaded.plan);
    for (let job = search.next(); job; job = search.next())
      search.took({ point: job.point, seed: job.seed, outcome: simulate(compiled, job)! });
    expect(search.problem).toBe('the runs do not reach any of the observations that are used');
    expect(search.runs).toBe(30);
  });

  it('goes no further where most values make the run fail, and keeps the few that do not', () => {
    const search = new MatchSearch(matchOf(SMALL), model.loaded.plan);
    let runs = 0;
    for (let job = search.next(); job; job = search.next()) {
      runs++;
      const fails = job.parameters[0]! > -2.5 && Math.abs(job.parameters[0]!) > 1e-9;
      search.took({
        point: job.point,
        seed: job.seed,
        outcome: fails
          ? {
              seed: job.seed,
              failure: { severity: 'error', code: 'run/not-finite', message: 'It broke.', span: { start: 0, end: 0 } },
            }
          : simulate(compiled, job)!,
      });
    }
    // Pilots, the first round from the priors, and what the few that are left predict.
    expect(runs).toBe(30 + 100 + 50);
    expect(search.posterior!.draws.length).toBeLessThan(50);
    expect(search.posterior!.draws.every(([height]) => height! <= -2.5)).toBe(true);
  });
});
