import { scaleLinear } from 'd3-scale';

/** Round numbers that hold a range, about so many of them: for the ticks and the ends of an axis. */
export function roundTicks(low: number, high: number, wanted: number): number[] {
  if (!(high > low)) return Number.isFinite(low) ? [low, low + 1] : [0, 1];
  return scaleLinear().domain([low, high]).nice(wanted).ticks(wanted);
}
