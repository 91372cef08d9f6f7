import { loadModel, tickText } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { fittingTicks } from './fitting-ticks.ts';

const planWith = (clock: string) => loadModel(`model M\nclock\n${clock}\nmeasure m = step\n`).loaded!.plan;
const labels = (clock: string, lastStep: number, width: number): string[] => {
  const ticks = fittingTicks(planWith(clock), lastStep, width);
  return ticks.map(({ step }) => tickText(ticks, step));
};

describe('marks of time on an axis', () => {
  it('are fewer where it is narrower', () => {
    const days = '  step 1 day\n  end after 120 days';
    expect(labels(days, 120, 900)).toHaveLength(13);
    expect(labels(days, 120, 440)).toEqual(['0', '20 days', '40 days', '60 days', '80 days', '100 days', '120 days']);
    expect(labels(days, 120, 200)).toEqual(['0', '50 days', '100 days']);
  });

  it('have room for years, and there is always one', () => {
    const dates = '  step 1 day from 2031-03-01\n  end after 731 days';
    for (const width of [900, 440, 200]) {
      const found = labels(dates, 731, width);
      expect(found.join('').length * 6.3 + 8 * (found.length - 1)).toBeLessThan(width + 60);
    }
    expect(labels(dates, 731, 10).length).toBeGreaterThan(0);
  });
});
