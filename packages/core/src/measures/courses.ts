// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- fft.js brings no types, and who imports core reads its sources
/// <reference path="./fft.d.ts" />
import FFT from 'fft.js';
import { cosDegrees, log, power, sinDegrees } from '../math.ts';

/** What one course of a run tells: how fast it grows, how often it comes back, and in which stretches something held. */

/**
 * Growth rate of a course: slope of the straight line by least squares through the logarithms of its values over time.
 * @param values those that are empty, zero or below are passed over
 * @param times of the values, or the time between two of them
 * @returns a rate per time, or NaN with fewer than two values above zero
 */
export function growthRate(values: ArrayLike<number>, times: number | ArrayLike<number>): number {
  const points: [number, number][] = [];
  for (let i = 0; i < values.length; i++)
    if (values[i]! > 0) points.push([typeof times === 'number' ? i * times : times[i]!, log(values[i]!)]);
  const mean = (of: 0 | 1): number => points.reduce((sum, point) => sum + point[of], 0) / points.length;
  const [midTime, midLog] = [mean(0), mean(1)];
  let [together, own] = [0, 0];
  for (const [time, logarithm] of points) {
    together += (time - midTime) * (logarithm - midLog);
    own += (time - midTime) * (time - midTime);
  }
  return own > 0 ? together / own : NaN;
}

/** Where luck alone makes a peak so high more often than this, a course has no period (Fisher 1929). */
const FISHER_LEVEL = 0.05;
/** A course must come back at least this often to have a period. */
const FEWEST_CYCLES = 2;
const FEWEST_ROWS = 8;
/** Below this share of the size of the numbers, what is left of them is rounding. */
const TOLERANCE = 1e-9;
const GOLDEN = 0.3819660112501051;

/**
 * Period of a course: that of the highest peak of its periodogram, once its straight trend is taken off.
 * @param values rows one after another; empty ones in between are filled in on the straight line
 * @param step time between two rows
 * @returns a time, or NaN with fewer than eight rows, where the peak is no higher than luck alone makes it (Fisher's test at 0.05), or where it lies
 * at fewer than two cycles in the whole course
 */
export function period(values: ArrayLike<number>, step: number): number {
  const course = withoutTrend(filledIn(values));
  const n = course.length;
  const squares = course.reduce((sum, value) => sum + value * value, 0);
  if (n < FEWEST_ROWS || squares === 0) return NaN;
  const size = 4 * powerOfTwoFrom(n);
  const highest = highestOf(spectrum(course, size));
  const cycles = (highest * n) / size;
  // The test is of whole numbers of cycles in the course.
  const share =
    Math.max(...[Math.floor(cycles), Math.ceil(cycles)].map((whole) => powerAt(course, whole / n))) /
    ((n * squares) / 2);
  const frequencies = Math.floor((n - 1) / 2);
  if (frequencies * power(Math.max(0, 1 - share), frequencies - 1) > FISHER_LEVEL) return NaN;
  const frequency = summit((at) => powerAt(course, at), (highest - 1) / size, (highest + 1) / size);
  return frequency * n < FEWEST_CYCLES - TOLERANCE ? NaN : step / frequency;
}

/** Empty rows in between by the straight line from the one before to the one after; those at both ends are left away. */
function filledIn(values: ArrayLike<number>): Float64Array {
  const present = Array.from(values, (value, i) => (Number.isNaN(value) ? -1 : i)).filter((i) => i >= 0);
  const [first = 0, last = -1] = [present[0], present[present.length - 1]];
  const filled = new Float64Array(last - first + 1);
  present.forEach((place, k) => {
    const next = present[k + 1] ?? place;
    for (let i = place; i <= next; i++) {
      const share = next > place ? (i - place) / (next - place) : 0;
      filled[i - first] = values[place]! + share * (values[next]! - values[place]!);
    }
  });
  return filled;
}

/** Less the straight line by least squares; all zero where that leaves only what rounding makes. */
function withoutTrend(values: Float64Array): Float64Array {
  const n = values.length;
  const mean = values.reduce((sum, value) => sum + value, 0) / n;
  const middle = (n - 1) / 2;
  let [together, own] = [0, 0];
  values.forEach((value, i) => {
    together += (i - middle) * (value - mean);
    own += (i - middle) * (i - middle);
  });
  const slope = own > 0 ? together / own : 0;
  const rest = values.map((value, i) => value - mean - slope * (i - middle));
  const widest = (of: Float64Array): number => of.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  return widest(rest) > TOLERANCE * widest(values) ? rest : rest.fill(0);
}

function powerOfTwoFrom(n: number): number {
  let size = 2;
  while (size < n) size *= 2;
  return size;
}

/** Squared sizes of the Fourier transform of a course that is filled up with zeros. */
function spectrum(course: Float64Array, size: number): Float64Array {
  const transform = new FFT(size);
  const padded = new Float64Array(size);
  padded.set(course);
  const both = transform.createComplexArray();
  transform.realTransform(both, padded);
  return Float64Array.from(
    { length: size / 2 },
    (_, k) => both[2 * k]! * both[2 * k]! + both[2 * k + 1]! * both[2 * k + 1]!,
  );
}

function highestOf(values: Float64Array): number {
  return values.reduce((best, value, i) => (value > values[best]! ? i : best), 1);
}

/** Squared size of the Fourier transform of a course at any frequency in cycles a row; the same to the bit on every machine. */
function powerAt(course: Float64Array, frequency: number): number {
  const [cos, sin] = [cosDegrees(360 * frequency), sinDegrees(360 * frequency)];
  let [x, y] = [1, 0];
  let [real, imaginary] = [0, 0];
  for (const value of course) {
    real += value * x;
    imaginary += value * y;
    [x, y] = [x * cos - y * sin, x * sin + y * cos];
  }
  return real * real + imaginary * imaginary;
}

/** Where a function with one summit between two places is highest, by the golden section. */
function summit(height: (at: number) => number, low: number, high: number): number {
  for (let i = 0; i < 48; i++) {
    const third = (high - low) * GOLDEN;
    if (height(low + third) < height(high - third)) low += third;
    else high -= third;
  }
  return (low + high) / 2;
}

/** Stretches of rows in which something held, from the first row to the one after the last. */
export interface Spell {
  readonly from: number;
  readonly to: number;
}

/**
 * The stretches in which something held.
 * @param holds a row each: 0 is no, NaN is empty and ends a stretch, all else is yes
 */
export function spellsOf(holds: ArrayLike<number>): Spell[] {
  const spells: Spell[] = [];
  let from = -1;
  for (let i = 0; i <= holds.length; i++) {
    const isIn = i < holds.length && holds[i] !== 0 && !Number.isNaN(holds[i]!);
    if (isIn && from < 0) from = i;
    if (isIn || from < 0) continue;
    spells.push({ from, to: i });
    from = -1;
  }
  return spells;
}

/** Mean length in rows of the stretches that both begin and end within the course; NaN without one. */
export function meanSpell(spells: readonly Spell[], rows: number): number {
  const whole = spells.filter(({ from, to }) => from > 0 && to < rows);
  return whole.reduce((sum, { from, to }) => sum + to - from, 0) / whole.length;
}

/** Length in rows of the longest stretch, as far as it is seen; 0 without one. */
export function longestSpell(spells: readonly Spell[]): number {
  return spells.reduce((most, { from, to }) => Math.max(most, to - from), 0);
}

/** Mean over the stretches of the highest value within each; those without a value are passed over, NaN without one. */
export function meanPeak(spells: readonly Spell[], values: Float64Array): number {
  const peaks = spells
    .map(({ from, to }) => values.subarray(from, to).filter((value) => !Number.isNaN(value)))
    .filter((present) => present.length > 0)
    .map((present) => present.reduce((most, value) => Math.max(most, value), -Infinity));
  return peaks.reduce((sum, peak) => sum + peak, 0) / peaks.length;
}
