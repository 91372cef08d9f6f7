import type { Cell, Plan, SeriesAgreement } from '@vole/core';
import { heading } from '@vole/core';

/** The least and greatest of some numbers that are some. */
export function extent(values: readonly number[]): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return low <= high ? [low, high] : [0, 1];
}

/** The table of a comparison: a row an observation, as the command line writes it, with its step. */
export function agreementTable({ observations, expression }: SeriesAgreement, plan: Plan): Cell[][] {
  const { stepLength, unitLabel } = plan.clock;
  const unit = plan.measures.find(({ name }) => name === expression)?.unitLabel ?? '';
  const values = ['observed', 'median', 'low50', 'high50', 'low90', 'high90'].map((name) => heading(name, unit));
  return [
    ['step', heading('time', unitLabel), ...values, 'held_out'],
    ...observations.map(({ time, value, median, low50, high50, low90, high90, isHeldOut }) => [
      time / stepLength,
      time,
      value,
      median,
      low50,
      high50,
      low90,
      high90,
      isHeldOut ? 1 : 0,
    ]),
  ];
}
