/** The values of a variable that a table gives. Times count from the start in base units and rise; the first is not after it. */
export interface InputSeries {
  readonly variable: number;
  readonly times: readonly number[];
  readonly values: readonly number[];
}

/** The value that holds at a time: that of the last row not after it. */
export function valueAt({ times, values }: Pick<InputSeries, 'times' | 'values'>, time: number): number {
  let [low, high] = [0, times.length];
  while (high - low > 1) {
    const middle = (low + high) >>> 1;
    if (times[middle]! <= time) low = middle;
    else high = middle;
  }
  return values[low]!;
}
