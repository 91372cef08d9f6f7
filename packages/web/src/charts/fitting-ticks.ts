import type { Plan, Tick } from '@vole/core';
import { tickText, timeTicks } from '@vole/core';
import { useState } from 'react';
import { VALUES_WIDTH } from './axes.ts';

/** How many marks are asked for, the most first. */
const WANTED = [12, 9, 7, 5, 4, 3, 2] as const;
/** Pixels of a letter of a label at its size, and between two labels. */
const LETTER = 6.3;
const GAP = 8;

/** Room that a chart leaves to the right of its axis, so that half of the last label fits. */
export const RIGHT_OF_AXIS = 28;
/** Of a chart that is not measured yet, in pixels. */
const USUAL_WIDTH = 480;

/** Marks of time over an axis, as many as stand beside one another without touching. @param width of the axis in pixels */
export function fittingTicks(plan: Plan, lastStep: number, width: number): Tick[] {
  const each = WANTED.map((wanted) => timeTicks(plan, lastStep, wanted));
  return each.find((ticks) => fit(ticks, lastStep, width)) ?? each.at(-1)!;
}

function fit(ticks: readonly Tick[], lastStep: number, width: number): boolean {
  const room = (tick: Tick): number => tickText(ticks, tick.step).length * LETTER;
  return ticks.every((tick, i) => {
    const before = ticks[i - 1];
    if (!before) return true;
    return ((tick.step - before.step) / lastStep) * width >= (room(before) + room(tick)) / 2 + GAP;
  });
}

/** The marks of time of a chart with an axis of values beside it. @returns also what takes its width whenever that changes */
export function useFittingTicks(plan: Plan, lastStep: number): [ticks: Tick[], onResize: (width: number) => void] {
  const [width, setWidth] = useState(USUAL_WIDTH);
  return [fittingTicks(plan, lastStep, width - VALUES_WIDTH - RIGHT_OF_AXIS), setWidth];
}
