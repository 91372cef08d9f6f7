import { RandomStream, keyOfName } from '../../engine/random/stream.ts';
import { log, power } from '../../math.ts';

/** A power law fitted to the upper end of some whole numbers. */
export interface PowerLaw {
  readonly exponent: number;
  /** The lowest value that belongs to it. */
  readonly from: number;
  /** Values from there on. */
  readonly count: number;
  /** Share of samples of the fitted law that lie as far from theirs: below 0.1 the values are hardly of one. */
  readonly p: number;
}

const LEAST_VALUES = 50;
const LEAST_IN_TAIL = 10;
const SAMPLES = 100;
const [LOWEST, HIGHEST] = [1.01, 8];

/**
 * Fits a discrete power law by maximum likelihood, its beginning by the least distance between both distributions, and tests it on samples
 * of what was fitted. Source: A. Clauset, C. R. Shalizi, M. E. J. Newman, SIAM Rev. 51 (2009), 661-703, sections 3 and 4; the test with
 * 100 samples, so that p is known within about 0.05.
 * @param values whole numbers from 1 on; others are left out
 * @returns nothing of fewer than 50 values, or where all are the same
 */
export function powerLawOf(values: readonly number[]): PowerLaw | undefined {
  const present = values.filter((value) => value >= 1);
  const fit = present.length < LEAST_VALUES ? undefined : fitted(present);
  if (!fit) return undefined;
  const luck = RandomStream.of(present.length, 0, keyOfName('power law'));
  const unit = (): number => luck.word() / 4294967296;
  const body = present.filter((value) => value < fit.from);
  let further = 0;
  for (let sample = 0; sample < SAMPLES; sample++) {
    const drawn = present.map(() =>
      unit() < fit.count / present.length
        ? drawnFrom(fit.exponent, fit.from, unit())
        : body[Math.floor(unit() * body.length)]!,
    );
    if ((fitted(drawn)?.distance ?? Infinity) >= fit.distance) further++;
  }
  const { exponent, from, count } = fit;
  return { exponent, from, count, p: further / SAMPLES };
}

interface Fit {
  readonly exponent: number;
  readonly from: number;
  readonly count: number;
  /** Largest difference of the cumulative distributions (Kolmogorov and Smirnov). */
  readonly distance: number;
}

function fitted(values: readonly number[]): Fit | undefined {
  const sorted = Float64Array.from(values).sort();
  let best: Fit | undefined;
  for (let first = 0; first <= sorted.length - LEAST_IN_TAIL; first++) {
    if (first > 0 && sorted[first] === sorted[first - 1]) continue;
    const tail = sorted.subarray(first);
    if (tail[0] === tail[tail.length - 1]) break;
    const exponent = likeliest(tail);
    const distance = distanceOf(tail, exponent);
    if (!best || distance < best.distance) best = { exponent, from: tail[0]!, count: tail.length, distance };
  }
  return best;
}

/** The exponent of the greatest likelihood, by golden sections: the likelihood has one maximum. */
function likeliest(tail: Float64Array): number {
  const logs = tail.reduce((sum, value) => sum + log(value), 0);
  const against = (exponent: number): number => tail.length * log(zeta(exponent, tail[0]!)) + exponent * logs;
  const ratio = (Math.sqrt(5) - 1) / 2;
  let [low, high] = [LOWEST, HIGHEST];
  while (high - low > 1e-4) {
    const third = ratio * (high - low);
    if (against(high - third) < against(low + third)) high = low + third;
    else low = high - third;
  }
  return (low + high) / 2;
}

function distanceOf(tail: Float64Array, exponent: number): number {
  const whole = zeta(exponent, tail[0]!);
  let furthest = 0;
  for (let i = 0; i < tail.length; i++) {
    if (i + 1 < tail.length && tail[i + 1] === tail[i]) continue;
    const law = 1 - zeta(exponent, tail[i]! + 1) / whole;
    furthest = Math.max(furthest, Math.abs((i + 1) / tail.length - law));
  }
  return furthest;
}

/** A value of the law whose upper share is `u`. */
function drawnFrom(exponent: number, from: number, u: number): number {
  const whole = zeta(exponent, from);
  let low = from;
  let high = from;
  while (zeta(exponent, high + 1) / whole > u && high < 1e9) {
    low = high;
    high *= 2;
  }
  while (low < high) {
    const middle = Math.floor((low + high) / 2);
    if (zeta(exponent, middle + 1) / whole > u) low = middle + 1;
    else high = middle;
  }
  return low;
}

const TERMS = 12;

/** Hurwitz's zeta function: the sum of (n + q)^-s over n from 0, by Euler and Maclaurin's formula; s above 1, q from 1 on. */
export function zeta(s: number, q: number): number {
  let sum = 0;
  for (let n = 0; n < TERMS; n++) sum += power(q + n, -s);
  const a = q + TERMS;
  const at = power(a, -s);
  return (
    sum +
    (at * a) / (s - 1) +
    at / 2 +
    (s * at) / (12 * a) -
    (s * (s + 1) * (s + 2) * at) / (720 * a * a * a) +
    (s * (s + 1) * (s + 2) * (s + 3) * (s + 4) * at) / (30240 * a * a * a * a * a)
  );
}
