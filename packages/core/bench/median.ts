/** The middle one of some readings; of an even number the higher. */
export function median(readings: readonly number[]): number {
  return [...readings].sort((a, b) => a - b)[readings.length >> 1]!;
}
