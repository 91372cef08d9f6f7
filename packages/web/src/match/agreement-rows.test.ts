import type { SeriesAgreement } from '@vole/core';
import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { agreementTable, extent } from './agreement-rows.ts';

const { plan } = loadModel(
  'model Days\nclock\n  step 2 days\n  end after 10 steps\nagent Vole\n  start 3\nmeasure n = count Vole\n',
).loaded!;

describe('a comparison with what was observed', () => {
  it('has a table with a row an observation, with its step', () => {
    const observation = { time: 4, value: 2, median: 3, low50: 2, high50: 4, low90: 1, high90: 5, isHeldOut: true };
    const agreement = { expression: 'n', observations: [observation] } as unknown as SeriesAgreement;
    const [heads, row] = agreementTable(agreement, plan);
    expect(heads!.at(-1)).toBe('held_out');
    expect(row).toEqual([4 / plan.clock.stepLength, 4, 2, 3, 2, 4, 1, 5, 1]);
  });

  it('spans from the least to the greatest, of nothing from 0 to 1', () => {
    expect(extent([3, -1, 2])).toEqual([-1, 3]);
    expect([extent([]), extent([NaN])]).toEqual([
      [0, 1],
      [0, 1],
    ]);
  });
});
