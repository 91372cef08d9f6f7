import { describe, expect, it } from 'vitest';
import type { Plan } from '@vole/core';
import { journeyWords } from './journey-words.ts';

const plan = {
  clock: { unitLabel: 'minutes' },
  lines: [{ name: 'Ferries' }],
  spaces: [{ unitLabel: 'm', lanes: { width: 1000, height: 1000, places: [{ name: 'Mill', x: 100, y: 50 }] } }],
} as unknown as Plan;

describe('a journey in words', () => {
  it('tells each part with its time, a wait beside it, and the time of all', () => {
    const { parts, whole } = journeyWords(plan, 0, [
      { is: 'walk', x: 100.4, y: 50, time: 2.5 },
      { is: 'ride', line: 0, from: 1, to: 3, x: 700, y: 50, wait: 3, time: 4 },
      { is: 'ride', line: 0, from: 0, to: 1, x: 102, y: 50, wait: 0, time: 1 },
      { is: 'walk', x: 720, y: 60, time: 0.5 },
    ]);
    expect(parts).toEqual([
      'on foot to Mill, 2.5 minutes',
      'by Ferries to (700, 50) m, 4 minutes, after a wait of 3 minutes',
      'by Ferries to (102, 50) m, 1 minutes',
      'on foot to (720, 60) m, 0.5 minutes',
    ]);
    expect(whole).toBe(11);
  });
});
