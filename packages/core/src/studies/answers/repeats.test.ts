import { describe, expect, it } from 'vitest';
import { compilePlan, loadModel } from '../../load.ts';
import { blockOf } from '../results/block.ts';
import { StudyResults } from '../results/study-results.ts';
import type { FinishedRun } from '../runner/run-study.ts';
import { simulate } from '../runner/simulate.ts';
import { courseDepths } from '../statistics/band-depth.ts';
import type { Course } from '../statistics/course.ts';
import { plainCourse } from '../statistics/course.ts';
import { answerTo } from './answer.ts';
import type { RunSplit } from './questions.ts';

const MODEL = `model Bank
clock
  end after 12 steps
agent Vole
  start 20
  behaviour go
    if chance(0.1)
      remove self
order
  go in turn
measure voles = count Vole
summary left = last of voles
summary gone = first time voles < 5
`;
const SEEDS = 30;

function asked(every = 1) {
  const { plan } = loadModel(MODEL).loaded!;
  const compiled = compilePlan(plan);
  const seeds = Array.from({ length: SEEDS }, (_, i) => i + 1);
  const runs = seeds.map((seed): FinishedRun => ({
    point: '',
    seed,
    outcome: simulate(compiled, { parameters: [], seed, every })!,
  }));
  const results = new StudyResults();
  results.add(blockOf(runs));
  const lefts = runs.map(({ outcome }) => ('result' in outcome ? outcome.result.summaries[0]! : NaN));
  return {
    study: { plan, design: { is: 'every combination' as const, factors: [], seeds }, results, text: MODEL },
    lefts,
  };
}

describe('answers about many runs of the same values', () => {
  const { study, lefts } = asked();

  it('the distribution has the values of all runs, empty ones counted apart', () => {
    expect(answerTo(study, { is: 'distribution', summary: 0 })).toMatchObject({ values: lefts, never: 0 });
    const gone = answerTo(study, { is: 'distribution', summary: 1 });
    expect(gone.values.length + gone.never).toBe(SEEDS);
    expect(gone.never).toBe(lefts.filter((left) => left >= 5).length);
  });

  it('the half width is Student’s of the first seeds, and of all of them at the end', () => {
    const { seeds, halves, mean } = answerTo(study, { is: 'enough', summary: 0 });
    expect([seeds[0], seeds.at(-1)]).toEqual([5, SEEDS]);
    const five = lefts.slice(0, 5);
    const middle = five.reduce((sum, x) => sum + x, 0) / 5;
    const sd = Math.sqrt(five.reduce((sum, x) => sum + (x - middle) ** 2, 0) / 4);
    // Student's t at 95 % with four degrees of freedom.
    expect(halves[0]).toBeCloseTo((2.1318 * sd) / Math.sqrt(5), 3);
    expect(mean).toBeCloseTo(lefts.reduce((sum, x) => sum + x, 0) / SEEDS, 12);
    expect(halves.at(-1)).toBeLessThan(halves[0]!);
  });

  it('a condition is asked of every run, of measures and summaries', () => {
    const yes = lefts.filter((left) => left < 6).length;
    for (const condition of ['left < 6', 'last of voles < 6', '(last of voles) * 2 < 12']) {
      const found = answerTo(study, { is: 'outcome', condition });
      expect('problem' in found ? found.problem : [found.yes, found.never, found.share.runs]).toEqual([yes, 0, SEEDS]);
    }
    const first = answerTo(study, { is: 'outcome', condition: 'left < 6' });
    if ('problem' in first) throw new Error(first.problem);
    expect(first.first.map(({ seed }) => seed)).toEqual(
      lefts.flatMap((left, i) => (left < 6 ? [i + 1] : [])).slice(0, 5),
    );
    // Wilson's interval of none: 0 to z^2 / (n + z^2).
    const none = answerTo(study, { is: 'outcome', condition: 'left > 20' });
    if ('problem' in none) throw new Error(none.problem);
    expect(none.share.high).toBeCloseTo(1.6449 ** 2 / (SEEDS + 1.6449 ** 2), 4);
  });

  it('of something that never happens it is neither yes nor no', () => {
    const found = answerTo(study, { is: 'outcome', condition: '(first time voles > 99) < 5 steps' });
    expect(found).toMatchObject({ yes: 0, never: SEEDS });
  });

  it('what is kept every few steps is said, and what cannot be asked too', () => {
    expect(answerTo(asked(4).study, { is: 'outcome', condition: 'left < 6' })).toMatchObject({ every: 4 });
    expect(answerTo(study, { is: 'outcome', condition: 'lefts < 6' })).toMatchObject({
      problem: expect.stringContaining('“lefts” is not known here') as string,
    });
    expect(answerTo(study, { is: 'outcome', condition: 'count Vole < 6' })).toMatchObject({
      problem: expect.stringContaining('population itself') as string,
    });
  });

  it('names the most typical run and those apart', () => {
    const { typical, apart, runs } = answerTo(study, { is: 'apart', course: plainCourse(0) })!;
    expect(runs).toBe(SEEDS);
    expect(Math.abs(lefts[typical.seed - 1]! - lefts.reduce((sum, x) => sum + x, 0) / SEEDS)).toBeLessThan(2.5);
    for (const { step } of apart) expect(step).toBeGreaterThan(0);
    expect(answerTo(study, { is: 'apart', course: plainCourse(4) })).toBeUndefined();
  });
});

describe('depth of courses', () => {
  /** Modified band depth as it is defined: over all pairs of courses, the share of time that lies between them. */
  function byDefinition(courses: readonly Float64Array[]): number[] {
    const n = courses.length;
    return courses.map((course) => {
      let sum = 0;
      for (let a = 0; a < n; a++)
        for (let b = a + 1; b < n; b++)
          course.forEach((value, t) => {
            const [x, y] = [courses[a]![t]!, courses[b]![t]!];
            if (value >= Math.min(x, y) && value <= Math.max(x, y)) sum++;
          });
      return sum / (course.length * ((n * (n - 1)) / 2));
    });
  }
  const waves = Array.from({ length: 12 }, (_, i) =>
    Float64Array.from({ length: 20 }, (_, t) => Math.round(10 * Math.sin(t / 3) + i + (t % (i + 2)))),
  );

  it('is the depth of the definition, ties and all', () => {
    courseDepths(waves).depths.forEach((depth, i) => expect(depth).toBeCloseTo(byDefinition(waves)[i]!, 12));
  });

  it('a course far above the others stands apart from where it leaves them; one that has ended keeps its last value', () => {
    const high = Float64Array.from({ length: 20 }, (_, t) => (t < 8 ? waves[5]![t]! : 200));
    const short = waves[6]!.slice(0, 9);
    const { apart, typical } = courseDepths([...waves, high, short]);
    expect(apart[0]).toEqual({ place: 12, row: 8, isAbove: true, share: 12 / 20 });
    expect(typical).toBeGreaterThanOrEqual(3);
    expect(typical).toBeLessThanOrEqual(8);
  });

  it('the least deep are named with the row at which they lie furthest from the deepest', () => {
    const level = (height: number): Float64Array =>
      Float64Array.from({ length: 10 }, (_, t) => height + (t === 6 ? height / 4 : 0));
    const { unusual, apart } = courseDepths([-4, -3, -2, -1, 0, 1, 2, 3, 5].map(level));
    expect(apart).toEqual([]);
    expect(unusual).toEqual([
      { place: 8, row: 6, isAbove: true },
      { place: 0, row: 6, isAbove: false },
    ]);
  });

  it('of few courses none stands apart, and of none nothing is typical', () => {
    expect(courseDepths(waves.slice(0, 4)).apart).toEqual([]);
    expect(courseDepths([])).toEqual({ depths: [], typical: -1, apart: [], unusual: [] });
  });
});

describe('courses of what runs measure', () => {
  const { study } = asked();

  it('a course is read as it is asked for: added up, summed, as change, as share', () => {
    const fan = (course: Course) => answerTo(study, { is: 'fan', course, lines: 1 });
    const [plain] = fan(plainCourse(0))!.lines;
    expect([...fan({ of: [0, 0], form: 'as measured' })!.lines[0]!.values]).toEqual(
      Array.from(plain!.values, (x) => 2 * x),
    );
    let sum = 0;
    expect([...fan({ of: [0], form: 'summed up' })!.lines[0]!.values]).toEqual(
      Array.from(plain!.values, (x) => (sum += x)),
    );
    expect(fan({ of: [0], form: 'change per step' })!.bands.low90[0]).toBeNaN();
    expect([...fan({ of: [0], form: 'share', whole: [0, 0] })!.bands.median]).toEqual(
      Array.from(plain!.values, () => 0.5),
    );
    // Of rows that are kept every third step the change is that of one step.
    const third = answerTo(asked(3).study, { is: 'fan', course: { of: [0], form: 'change per step' }, lines: 1 })!;
    expect(third.lines[0]!.values[1]).toBeCloseTo((plain!.values[3]! - plain!.values[0]!) / 3, 12);
    expect(fan({ of: [], form: 'as measured' })).toBeUndefined();
    expect(fan({ of: [0], form: 'share', whole: [4] })).toBeUndefined();
  });

  it('crossings are those of the rows: the first, how many, how long beyond, never counted apart', () => {
    const courses = answerTo(study, { is: 'fan', course: plainCourse(0), lines: SEEDS })!.lines.map(({ values }) => [
      ...values,
    ]);
    const answer = answerTo(study, { is: 'crossings', course: plainCourse(0), level: 8, up: false })!;
    const firsts = courses.map((values) => values.findIndex((x) => x < 8)).filter((row) => row >= 0);
    expect(answer.first.never).toBe(SEEDS - firsts.length);
    expect(answer.first.value).toBeCloseTo(firsts.reduce((a, b) => a + b, 0) / firsts.length, 10);
    expect(answer.earliest[0]!.step).toBe(Math.min(...firsts));
    const beyond = courses.map((values) => values.filter((x) => x < 8).length);
    expect(answer.beyond.value).toBeCloseTo(beyond.reduce((a, b) => a + b, 0) / SEEDS, 10);
    // It never rises, and where it starts is no crossing.
    const up = answerTo(study, { is: 'crossings', course: plainCourse(0), level: 8, up: true })!;
    expect([up.times.value, up.first.never, up.earliest]).toEqual([0, SEEDS, []]);
    const back = { ...study, results: new StudyResults() };
    const rows = Float64Array.of(1, 5, NaN, 2, 6, 6);
    back.results.add(
      blockOf([
        {
          point: '',
          seed: 1,
          outcome: { result: { seed: 1, steps: 10, rows, every: 2, summaries: Float64Array.of(6, 0), refused: 0 } },
        },
      ]),
    );
    expect(answerTo(back, { is: 'crossings', course: plainCourse(0), level: 5, up: true })).toMatchObject({
      first: { value: 2, never: 0 },
      times: { value: 2 },
      beyond: { value: 6 },
      earliest: [{ seed: 1, step: 2 }],
    });
  });

  it('two kinds of runs are told apart by a condition or a value, and nobody is in both', () => {
    const split = (where: RunSplit) => answerTo(study, { is: 'fan', course: plainCourse(0), lines: 99, where });
    const low = split({ summary: 0, below: 6, holds: true })!;
    const high = split({ summary: 0, below: 6, holds: false })!;
    expect(low.bands.runs + high.bands.runs).toBe(SEEDS);
    expect(low.lines.every(({ values }) => values.at(-1)! < 6)).toBe(true);
    expect(high.lines.every(({ values }) => values.at(-1)! >= 6)).toBe(true);
    const asked = split({ condition: 'left < 6', holds: true })!;
    expect(asked.lines.map(({ seed }) => seed)).toEqual(low.lines.map(({ seed }) => seed));
    expect(split({ condition: 'lefts < 6', holds: true })).toBeUndefined();
    // Never is neither below nor not.
    const gone = [true, false].map((holds) => split({ summary: 1, below: 99, holds })?.bands.runs ?? 0);
    expect(gone[0]! + gone[1]!).toBe(SEEDS - answerTo(study, { is: 'distribution', summary: 1 }).never);
  });

  it('two humps are told with the value between them', () => {
    const summaries = Array.from({ length: 40 }, (_, i) => (i % 2 ? 3 : 40) + (i % 7) / 10);
    const results = new StudyResults();
    results.add(
      blockOf(
        summaries.map((value, i): FinishedRun => ({
          point: '',
          seed: i + 1,
          outcome: {
            result: {
              seed: i + 1,
              steps: 1,
              rows: Float64Array.of(1, 1),
              every: 1,
              summaries: Float64Array.of(value, NaN),
              refused: 0,
            },
          },
        })),
      ),
    );
    const seeds = summaries.map((_, i) => i + 1);
    const two = { ...study, design: { ...study.design, seeds }, results };
    const { dip, between } = answerTo(two, { is: 'distribution', summary: 0 });
    expect(dip!.p).toBeLessThan(0.01);
    expect(between).toBeCloseTo((3.6 + 40) / 2, 6);
    expect(answerTo(two, { is: 'distribution', summary: 1 })).toMatchObject({ never: 40, dip: undefined });
  });
});
