import { drawnRows } from '@vole/core';

/** A value at a time, in base units. */
export interface ObservedPoint {
  readonly time: number;
  readonly value: number;
}

/** Observed values that are drawn at most, the highest and lowest among them. */
export const MOST_CIRCLES = 1000;

/** Observed values as far as they can be told apart. */
export function drawnPoints<T extends ObservedPoint>(observed: readonly T[]): readonly T[] {
  return observed.length <= MOST_CIRCLES
    ? observed
    : drawnRows(0, observed.length - 1, MOST_CIRCLES / 4, [(i) => observed[i]!.value]).map((i) => observed[i]!);
}
