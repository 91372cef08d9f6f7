import { readFileSync } from 'node:fs';
import type { Plan } from '@vole/core';
import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { stepWords, timeTicks } from './time-axis.ts';

const plan = loadModel(readFileSync(new URL('../../../../examples/meadow-year.vole', import.meta.url), 'utf8')).loaded!.plan;
const planWith = (clock: string): Plan => loadModel(`model P\nclock\n${clock}\nparameter p = 1\nmeasure m = p\n`).loaded!.plan;

describe('time on axes', () => {
  it('names steps by date, and marks months and years', () => {
    expect(stepWords(plan, 0)).toBe('1 March 2031');
    expect(stepWords(plan, 365)).toBe('29 February 2032');
    const ticks = timeTicks(plan, 730, 13);
    expect(ticks[0]).toEqual({ step: 0, label: 'M', year: '2031' });
    expect(ticks.find((tick) => tick.year === '2032')).toMatchObject({ label: 'J', step: 306 });
  });
  it('uses round times without a calendar', () => {
    const plain = planWith('  end after 9 steps');
    expect(timeTicks(plain, 1000, 10).map((tick) => tick.label)).toEqual(['0', '100', '200', '300', '400', '500', '600', '700', '800', '900', '1000']);
    expect(stepWords(plain, 4)).toBe('4 steps');
    expect(timeTicks(planWith('  step 0.5 h\n  end after 9 h'), 10, 5).map(({ step, label }) => [step, label])).toEqual([[0, '0'], [2, '1'], [4, '2'], [6, '3'], [8, '4'], [10, '5']]);
  });
  it('names days where a run is short', () => {
    const ticks = timeTicks(planWith('  step 12 h from 2031-12-25\n  end after 9 days'), 28, 10);
    expect(ticks.map(({ step, label, year }) => [step, label, year])).toEqual([[0, '25 Dec', '2031'], [4, '27 Dec', undefined], [8, '29 Dec', undefined], [12, '31 Dec', undefined], [16, '2 Jan', '2032'], [20, '4 Jan', undefined], [24, '6 Jan', undefined], [28, '8 Jan', undefined]]);
  });
  it('says the hour where steps are shorter than a day', () => {
    const hours = planWith('  step 90 minutes from 2031-12-31\n  end after 3 days');
    expect([0, 1, 15, 16].map((step) => stepWords(hours, step))).toEqual(['31 December 2031, 00:00', '31 December 2031, 01:30', '31 December 2031, 22:30', '1 January 2032, 00:00']);
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
