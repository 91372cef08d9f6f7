import { describe, expect, it } from 'vitest';
import { compilePlan, loadModel } from '../../load.ts';
import { jobsOf } from '../design/design.ts';
import { withOutcomes } from '../outcomes.ts';
import { blockOf } from '../results/block.ts';
import { StudyResults } from '../results/study-results.ts';
import type { FinishedRun } from '../runner/run-study.ts';
import { simulate } from '../runner/simulate.ts';
import { pairedDifference } from '../statistics/differences.ts';
import { readStudy } from '../text/read-study.ts';
import { plainCourse } from '../statistics/course.ts';
import { answerTo } from './answer.ts';

const MODEL = `model Bank
clock
  end after 12 steps
  end when count Vole is 0
parameter bite = 0.1, from 0 to 1
parameter founders = 20, whole from 1 to 100
parameter idle = 1, from 0 to 9
agent Vole
  start founders
  behaviour go
    if chance(bite)
      remove self
order
  go in turn
measure voles = count Vole
summary left = last of voles
`;

/** A study of the model, run to its end, with its runs. */
function studied(text: string, leaveOut: (run: FinishedRun) => boolean = () => false) {
  const { study } = readStudy(text, { text: MODEL, loaded: loadModel(MODEL).loaded! });
  const compiled = compilePlan(withOutcomes(MODEL, undefined, study!.outcomes)!.plan);
  const runs = [...jobsOf(study!.setting, compiled.plan)].map((job): FinishedRun => {
    const { point, seed } = job;
    return { point, seed, outcome: simulate(compiled, job)! };
  });
  const results = new StudyResults();
  results.add(blockOf(runs.filter((run) => !leaveOut(run))));
  return { asked: { plan: compiled.plan, design: study!.setting.design, results }, runs };
}
const rowsOf = ({ outcome }: FinishedRun): number[] => ('result' in outcome ? [...outcome.result.rows] : []);

describe('answers about scenarios', () => {
  const { asked, runs } = studied(
    'study S\n8 seeds each\noutcome few: left < 3\nscenario Calm\nscenario Hungry\n  bite = 0.4\n',
  );

  it('differences are those of pairs with the same seed, against any of them', () => {
    const left = (place: number): number[] => runs.slice(place * 8, place * 8 + 8).map((run) => rowsOf(run).at(-1)!);
    const differences = left(1).map((value, i) => value - left(0)[i]!);
    const [found] = answerTo(asked, { is: 'differences', base: 0 });
    expect(found!.place).toBe(1);
    const [ofLeft, ofFew] = found!.summaries;
    expect(ofLeft!.difference.value).toBeCloseTo(differences.reduce((sum, x) => sum + x, 0) / 8, 12);
    expect(ofLeft!.difference.runs).toBe(8);
    expect(ofLeft!.ahead.value).toBe(0);
    expect(ofFew!.difference.value).toBeGreaterThan(0);
    const [back] = answerTo(asked, { is: 'differences', base: 1 });
    expect(back!.summaries[0]!.difference.value).toBeCloseTo(-ofLeft!.difference.value, 12);
    expect(answerTo(asked, { is: 'differences', base: 7 })).toEqual([]);
  });

  it('pairs that are the same are counted apart, and half to each side in the share; empty ones are in neither', () => {
    const found = pairedDifference([1, 2, 3, NaN, undefined], [1, 3, 2, 4, 5]);
    expect([found.same, found.never, found.difference.runs, found.difference.value]).toEqual([1, 1, 3, 0]);
    expect(found.ahead.value).toBeCloseTo(0.5, 12);
  });

  it('the course of a difference is of pairs too, and a run that has ended keeps its last value', () => {
    const bands = answerTo(asked, { is: 'difference fan', course: plainCourse(0), base: 0, other: 1 })!;
    expect([bands.runs, bands.steps.length]).toEqual([8, 13]);
    const at = (run: FinishedRun, row: number): number => rowsOf(run)[Math.min(row, rowsOf(run).length - 1)]!;
    for (const row of [0, 3, 12]) {
      const sorted = runs
        .slice(8)
        .map((run, i) => at(run, row) - at(runs[i]!, row))
        .sort((a, b) => a - b);
      expect(bands.median[row]).toBe((sorted[3]! + sorted[4]!) / 2);
    }
    expect(answerTo(asked, { is: 'difference fan', course: plainCourse(3), base: 0, other: 1 })).toBeUndefined();
  });

  it('pairs of which a run is missing are left out', () => {
    const { asked } = studied(
      'study S\n8 seeds each\nscenario Calm\nscenario Hungry\n  bite = 0.4\n',
      ({ seed, point }) => seed === 3 && point.includes('0.4'),
    );
    expect(answerTo(asked, { is: 'differences', base: 0 })[0]!.summaries[0]!.difference.runs).toBe(7);
    expect(answerTo(asked, { is: 'difference fan', course: plainCourse(0), base: 0, other: 1 })!.runs).toBe(7);
  });
});

describe('answers about sampled designs', () => {
  const indicesOf = (design: string) => {
    const { asked } = studied(`study S\nvary bite 0 to 0.3\nvary founders 5 to 60\nvary idle 0 to 9\n${design}`);
    return answerTo(asked, { is: 'sensitivity', summary: 0 })!;
  };
  const valueOf = (answer: ReturnType<typeof indicesOf>, factor: string, index: string): number =>
    answer.indices.find((each) => each.factor === factor && each.index === index)!.value;

  it('a factor that the model does not read matters nothing in any of them, and the others do', () => {
    const effects = indicesOf('elementary effects, 8 paths\n3 seeds each');
    expect(valueOf(effects, 'idle', 'size of effects')).toBe(0);
    expect(valueOf(effects, 'founders', 'mean of effects')).toBeGreaterThan(0);
    expect(valueOf(effects, 'bite', 'mean of effects')).toBeLessThan(0);
    const shares = indicesOf('sobol indices of 64\n3 seeds each');
    expect(Math.abs(valueOf(shares, 'idle', 'total index'))).toBeLessThan(1e-9);
    expect(valueOf(shares, 'founders', 'total index')).toBeGreaterThan(0.2);
    const ranks = indicesOf('latin hypercube of 80\n3 seeds each');
    expect(valueOf(ranks, 'founders', 'partial rank correlation')).toBeGreaterThan(0.5);
    expect(valueOf(ranks, 'bite', 'partial rank correlation')).toBeLessThan(-0.5);
    expect(Math.abs(valueOf(ranks, 'idle', 'partial rank correlation'))).toBeLessThan(0.3);
    expect(ranks.luck).toBeGreaterThan(0);
    expect(ranks.luck).toBeLessThan(0.5);
  });

  it('designs that are not sampled have no indices, one seed tells nothing of luck, and points without runs are left out', () => {
    const { asked } = studied('study S\nvary bite 0, 0.3\n2 seeds each');
    expect(answerTo(asked, { is: 'sensitivity', summary: 0 })).toBeUndefined();
    const one = indicesOf('random 20\n1 seed each');
    expect([one.luck, one.points]).toEqual([NaN, 20]);
    const { asked: half } = studied(
      'study S\nvary bite 0 to 0.3\nrandom 20\n1 seed each',
      ({ point }) => point < 'bite=0.15',
    );
    expect(answerTo(half, { is: 'sensitivity', summary: 0 })!.points).toBeLessThan(20);
  });
});
