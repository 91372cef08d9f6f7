import { shownNumber } from '../words/numbers.ts';
import type { Tick } from '@vole/core';
import { tickText } from '@vole/core';

/** How the axes of courses look, for the axes of the chart library. */

/** Pixels beside the axis of values for its labels. */
export const VALUES_WIDTH = 54;

const TICK = { fontSize: 12, fill: 'var(--faint)' };

/** An axis over steps, from the start to the last one. */
export function stepAxis(ticks: readonly Tick[], lastStep: number) {
  return {
    dataKey: 'step',
    type: 'number' as const,
    domain: [0, lastStep],
    ticks: ticks.map(({ step }) => step),
    interval: 0 as const,
    tickFormatter: (step: number) => tickText(ticks, step),
    tick: TICK,
    axisLine: { stroke: 'var(--line)' },
    tickLine: false,
  };
}

/** An axis of values from the left to the right, from the first of its round ticks to the last; where they would overlap, evenly chosen ones. */
export function acrossAxis(ticks: readonly number[]) {
  return {
    domain: [ticks[0]!, ticks.at(-1)!],
    ticks: [...ticks],
    interval: 'equidistantPreserveStart' as const,
    tick: TICK,
    axisLine: false,
    tickLine: false,
    tickFormatter: (value: number) => shownNumber(value),
  };
}

/** The same from below. */
export function valueAxis(ticks: readonly number[]) {
  return { ...acrossAxis(ticks), width: VALUES_WIDTH };
}
