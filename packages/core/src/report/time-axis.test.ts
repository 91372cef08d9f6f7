import { readFileSync } from 'node:fs';
import type { Plan } from '../plan/plan.ts';
import { loadModel } from '../load.ts';
import { describe, expect, it } from 'vitest';
import { timeOfDate } from '../studies/match/observations.ts';
import { stepWords, timeTicks } from './time-axis.ts';

const plan = loadModel(readFileSync(new URL('../../../../examples/meadow-year.vole', import.meta.url), 'utf8')).loaded!
  .plan;
const planWith = (clock: string): Plan =>
  loadModel(`model P\nclock\n${clock}\nparameter p = 1\nmeasure m = p\n`).loaded!.plan;

describe('time on axes', () => {
  it('names steps by date, and marks months and years', () => {
    expect(stepWords(plan, 0)).toBe('1 March 2031');
    expect(stepWords(plan, 365)).toBe('29 February 2032');
    const ticks = timeTicks(plan, 730, 13);
    expect(ticks[0]).toEqual({ step: 0, label: 'M', year: '2031' });
    expect(ticks.find((tick) => tick.year === '2032')).toMatchObject({ label: 'J', step: 306 });
  });
  it('uses round times without a calendar, in the unit that fits the span, and names it', () => {
    const labels = (clock: string, lastStep: number, wanted = 5): string[] =>
      timeTicks(planWith(clock), lastStep, wanted).map(({ label }) => label);
    expect(labels('  end after 9 steps', 1000)).toEqual([
      '0',
      '200 steps',
      '400 steps',
      '600 steps',
      '800 steps',
      '1000 steps',
    ]);
    expect(stepWords(planWith('  end after 9 steps'), 4)).toBe('4 steps');
    expect(timeTicks(planWith('  step 0.5 h\n  end after 9 h'), 10, 5).map(({ step, label }) => [step, label])).toEqual(
      [
        [0, '0'],
        [2, '1 h'],
        [4, '2 h'],
        [6, '3 h'],
        [8, '4 h'],
        [10, '5 h'],
      ],
    );
    expect(labels('  step 15 minutes\n  end after 9 h', 192)).toEqual(['0', '12 h', '24 h', '36 h', '48 h']);
    expect(timeTicks(planWith('  step 15 minutes\n  end after 9 h'), 192, 5)[1]!.step).toBe(48);
    expect(labels('  step 15 minutes\n  end after 9 h', 960)).toEqual([
      '0',
      '2 days',
      '4 days',
      '6 days',
      '8 days',
      '10 days',
    ]);
    expect(labels('  step 0.1 s\n  end after 9 s', 50)).toEqual(['0', '1 s', '2 s', '3 s', '4 s', '5 s']);
    expect(labels('  step 0.01 s\n  end after 9 s', 50)).toEqual(['0', '0.1 s', '0.2 s', '0.3 s', '0.4 s', '0.5 s']);
    expect(labels('  step 1 day\n  end after 9 days', 2)).toEqual(['0', '0.5 days', '1 day', '1.5 days', '2 days']);
    expect(labels('  step 1 year\n  end after 9 years', 100).at(-1)).toBe('100 years');
  });
  it('begins with the time of day with which a run begins', () => {
    const ticks = (clock: string, lastStep: number, wanted: number) =>
      timeTicks(planWith(clock), lastStep, wanted).map(({ step, label, year }) => [step, label, year]);
    expect(ticks('  step 10 minutes from 2031-12-31 18:30\n  end after 1 day', 72, 4)).toEqual([
      [15, '21:00', '31 Dec 2031'],
      [33, '1 Jan', undefined],
      [51, '03:00', undefined],
      [69, '06:00', undefined],
    ]);
    expect(ticks('  step 30 minutes from 2031-05-05 06:00\n  end after 4 h', 8, 5)).toEqual([
      [0, '06:00', '5 May 2031'],
      [2, '07:00', undefined],
      [4, '08:00', undefined],
      [6, '09:00', undefined],
      [8, '10:00', undefined],
    ]);
    expect(ticks('  step 6 h from 2031-05-05 06:00\n  end after 9 days', 16, 9)).toEqual([
      [3, '6 May', '2031'],
      [7, '7 May', undefined],
      [11, '8 May', undefined],
      [15, '9 May', undefined],
    ]);
    const plan = planWith('  step 30 minutes from 2031-12-31 23:30\n  end after 4 h');
    expect([0, 1, 2].map((step) => stepWords(plan, step))).toEqual([
      '31 December 2031, 23:30',
      '1 January 2032, 00:00',
      '1 January 2032, 00:30',
    ]);
    expect(timeOfDate('2032-01-01', plan)).toBe(30);
  });
  it('says the time of day where a run with a calendar is shorter than three days', () => {
    const ticks = timeTicks(planWith('  step 10 minutes from 2031-12-31\n  end after 2 days'), 216, 4);
    expect(ticks.map(({ step, label, year }) => [step, label, year])).toEqual([
      [0, '31 Dec', '2031'],
      [72, '12:00', undefined],
      [144, '1 Jan', undefined],
      [216, '12:00', undefined],
    ]);
  });
  it('names days where a run is short', () => {
    const ticks = timeTicks(planWith('  step 12 h from 2031-12-25\n  end after 9 days'), 28, 10);
    expect(ticks.map(({ step, label, year }) => [step, label, year])).toEqual([
      [0, '25 Dec', '2031'],
      [4, '27 Dec', undefined],
      [8, '29 Dec', undefined],
      [12, '31 Dec', undefined],
      [16, '2 Jan', '2032'],
      [20, '4 Jan', undefined],
      [24, '6 Jan', undefined],
      [28, '8 Jan', undefined],
    ]);
  });
  it('says the hour where steps are shorter than a day', () => {
    const hours = planWith('  step 90 minutes from 2031-12-31\n  end after 3 days');
    expect([0, 1, 15, 16].map((step) => stepWords(hours, step))).toEqual([
      '31 December 2031, 00:00',
      '31 December 2031, 01:30',
      '31 December 2031, 22:30',
      '1 January 2032, 00:00',
    ]);
  });
  it('has about as many marks as wanted for runs of days up to centuries, in order and on the axis', () => {
    for (const days of [50, 100, 400, 1000, 4000, 20_000, 80_000]) {
      const ticks = timeTicks(planWith('  step 1 day from 2031-03-05\n  end after 9 days'), days, 12);
      expect(ticks.length).toBeGreaterThan(1);
      expect(ticks.length).toBeLessThanOrEqual(28);
      const steps = ticks.map((tick) => tick.step);
      expect(steps).toEqual([...steps].sort((a, b) => a - b));
      expect(steps.every((step) => step >= 0 && step <= days)).toBe(true);
    }
  });
});
