import { power } from '../math.ts';

/** The slopes of a system at a time, written into `into`. */
export type Slopes = (time: number, values: Float64Array, into: Float64Array) => void;

const A = [
  [],
  [1 / 5],
  [3 / 40, 9 / 40],
  [44 / 45, -56 / 15, 32 / 9],
  [19372 / 6561, -25360 / 2187, 64448 / 6561, -212 / 729],
  [9017 / 3168, -355 / 33, 46732 / 5247, 49 / 176, -5103 / 18656],
  [35 / 384, 0, 500 / 1113, 125 / 192, -2187 / 6784, 11 / 84],
] as const;
const C = [0, 1 / 5, 3 / 10, 4 / 5, 8 / 9, 1, 1];
/** Of the fifth order less those of the fourth. */
const E = [71 / 57600, 0, -71 / 16695, 71 / 1920, -17253 / 339200, 22 / 525, -1 / 40];
const SAFETY = 0.9;
const MOST_STEPS = 200_000;

/**
 * From one time to a later one, by the pair of orders five and four of J. Dormand and P. Prince, J. Comput. Appl. Math. 6 (1980), 19-26, with steps such
 * that the estimated error of each value stays within `tolerance` of its size, and of `scale`.
 * @returns the values then
 * @throws RangeError if the values leave the numbers, or change too fast to be followed
 */
export function integrate(
  slopes: Slopes,
  start: Float64Array,
  from: number,
  to: number,
  { tolerance, scale }: { readonly tolerance: number; readonly scale: number },
): Float64Array {
  const n = start.length;
  let values = Float64Array.from(start);
  const k = A.map(() => new Float64Array(n));
  const trial = new Float64Array(n);
  let time = from;
  let step = (to - from) / 10;
  slopes(time, values, k[0]!);
  for (let taken = 0; time < to; taken++) {
    if (taken > MOST_STEPS || !(step > 0)) throw new RangeError('The equations change too fast to be followed.');
    const isLast = time + step >= to;
    if (isLast) step = to - time;
    for (let stage = 1; stage < A.length; stage++) {
      for (let i = 0; i < n; i++) {
        let sum = 0;
        for (let j = 0; j < stage; j++) sum += A[stage]![j]! * k[j]![i]!;
        trial[i] = values[i]! + step * sum;
      }
      slopes(time + C[stage]! * step, trial, k[stage]!);
    }
    const error = errorOf(k, values, trial, step, tolerance, scale);
    if (Number.isNaN(error)) throw new RangeError('The equations leave the numbers.');
    if (error <= 1) {
      time = isLast ? to : time + step;
      values = Float64Array.from(trial);
      k[0]!.set(k[A.length - 1]!);
    }
    step *= Math.min(5, Math.max(0.2, SAFETY / power(Math.max(1e-10, error), 1 / 5)));
  }
  return values;
}

/** The largest estimated error, in what is tolerated. */
function errorOf(
  k: readonly Float64Array[],
  before: Float64Array,
  after: Float64Array,
  step: number,
  tolerance: number,
  scale: number,
): number {
  let most = 0;
  for (let i = 0; i < before.length; i++) {
    let error = 0;
    for (let stage = 0; stage < k.length; stage++) error += E[stage]! * k[stage]![i]!;
    const allowed = tolerance * (scale + Math.max(Math.abs(before[i]!), Math.abs(after[i]!)));
    const share = Math.abs(step * error) / allowed;
    if (Number.isNaN(share)) return NaN;
    most = Math.max(most, share);
  }
  return most;
}
