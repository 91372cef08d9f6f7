import { exp, log, power } from '../../math.ts';
import { mix } from './stream.ts';

/**
 * Distributions as pure functions of two random 32-bit words `a` and `b`. One that rejects goes on with words that follow from
 * the two, so it uses the same part of the agent's stream however often it tries, and keeps nothing between calls.
 * Parameters outside their range give NaN, which the engine reports with the place in the text.
 */

/** A draw of 53 bits times this is a number from 0 to below 1. */
export const TWO_M53 = 1.1102230246251565e-16;

let t0 = 0;
let t1 = 1;

function begin(a: number, b: number): void {
  t0 = mix(a ^ 0x5bd1e995);
  t1 = mix(b + 0x3c6ef372) | 1;
}

function nextWord(): number {
  const m = Math.imul(t0, 0x9e3779bb);
  const result = Math.imul((m << 5) | (m >>> 27), 5) >>> 0;
  const s1 = t1 ^ t0;
  t0 = ((t0 << 26) | (t0 >>> 6)) ^ s1 ^ (s1 << 9);
  t1 = (s1 << 13) | (s1 >>> 19);
  return result;
}

/** From 0 to below 1, 53 bits. */
export function drawUnit(a: number, b: number): number {
  return ((a >>> 5) * 67108864 + (b >>> 6)) * TWO_M53;
}

/** Above 0 up to 1, for logarithms. */
function nextPositive(): number {
  return 1 - drawUnit(nextWord(), nextWord());
}

export function drawUniform(from: number, to: number, a: number, b: number): number {
  return from + (to - from) * drawUnit(a, b);
}

/** Yes with chance p, from one word. */
export function drawChance(p: number, a: number): number {
  return a < p * 4294967296 ? 1 : 0;
}

/** A whole number from `from` to `to`, both included. */
export function drawWhole(from: number, to: number, a: number, b: number): number {
  return to >= from ? from + Math.floor(drawUnit(a, b) * (to - from + 1)) : NaN;
}

const LAYERS = 128;
const TAIL = 3.442619855899;
const LAYER_AREA = 9.91256303526217e-3;
const layerX = new Float64Array(LAYERS + 1);
const layerRatio = new Float64Array(LAYERS);
/** The layers as one column for those who draw by themselves: widths, one more than there are layers, then the share of each that needs no second look. */
export function normalLayers(): Float64Array {
  return Float64Array.of(...layerX, ...layerRatio);
}
export const NORMAL_LAYERS = LAYERS;
{
  let f = exp(-0.5 * TAIL * TAIL);
  layerX[0] = LAYER_AREA / f;
  layerX[1] = TAIL;
  for (let i = 2; i < LAYERS; i++) {
    layerX[i] = Math.sqrt(-2 * log(LAYER_AREA / layerX[i - 1]! + f));
    f = exp(-0.5 * layerX[i]! * layerX[i]!);
  }
  for (let i = 0; i < LAYERS; i++) layerRatio[i] = layerX[i + 1]! / layerX[i]!;
}

/**
 * A standard normal number by the ziggurat of 128 layers.
 * Source: J. A. Doornik, An improved ziggurat method to generate normal random samples (2005).
 */
function drawStandardNormal(a: number, b: number): number {
  const layer = a & 127;
  const u = ((a >>> 7) * 268435456 + (b >>> 4)) * 2.220446049250313e-16 - 1;
  return Math.abs(u) < layerRatio[layer]! ? u * layerX[layer]! : normalOutside(layer, u, a, b);
}

function normalOutside(firstLayer: number, firstU: number, a: number, b: number): number {
  begin(a, b);
  let layer = firstLayer;
  let u = firstU;
  for (;;) {
    if (Math.abs(u) < layerRatio[layer]!) return u * layerX[layer]!;
    if (layer === 0) return normalTail(u < 0);
    const x = u * layerX[layer]!;
    const f0 = exp(-0.5 * (layerX[layer]! * layerX[layer]! - x * x));
    const f1 = exp(-0.5 * (layerX[layer + 1]! * layerX[layer + 1]! - x * x));
    if (f1 + drawUnit(nextWord(), nextWord()) * (f0 - f1) < 1) return x;
    const word = nextWord();
    layer = word & 127;
    u = ((word >>> 7) * 268435456 + (nextWord() >>> 4)) * 2.220446049250313e-16 - 1;
  }
}

function normalTail(negative: boolean): number {
  for (;;) {
    const x = log(nextPositive()) / TAIL;
    const y = log(nextPositive());
    if (-2 * y >= x * x) return negative ? x - TAIL : TAIL - x;
  }
}

function nextNormal(): number {
  const s0 = nextWord();
  const s1 = nextWord();
  const k0 = t0;
  const k1 = t1;
  const z = drawStandardNormal(s0, s1);
  t0 = k0;
  t1 = k1;
  return z;
}

export function drawNormal(mean: number, sd: number, a: number, b: number): number {
  return sd >= 0 ? mean + sd * drawStandardNormal(a, b) : NaN;
}

/** `mean` and `sd` are those of the drawn values, not of their logarithms. */
export function drawLognormal(mean: number, sd: number, a: number, b: number): number {
  if (!(mean > 0) || !(sd >= 0)) return NaN;
  const ratio = sd / mean;
  const variance = log(1 + ratio * ratio);
  return exp(log(mean) - 0.5 * variance + Math.sqrt(variance) * drawStandardNormal(a, b));
}

export function drawExponential(mean: number, a: number, b: number): number {
  return mean >= 0 ? -mean * log(1 - drawUnit(a, b)) : NaN;
}

/** Standard gamma of a shape. Source: G. Marsaglia and W. W. Tsang, A simple method for generating gamma variables (2000). */
function nextGamma(shape: number): number {
  if (shape < 1) return nextGamma(shape + 1) * power(nextPositive(), 1 / shape);
  const d = shape - 1 / 3;
  const c = 1 / Math.sqrt(9 * d);
  for (;;) {
    const z = nextNormal();
    const v1 = 1 + c * z;
    if (v1 <= 0) continue;
    const v = v1 * v1 * v1;
    const u = nextPositive();
    const z2 = z * z;
    // Nearly always, and then without a logarithm, as the paper has it.
    if (u < 1 - 0.0331 * (z2 * z2)) return d * v;
    if (log(u) < 0.5 * z2 + d - d * v + d * log(v)) return d * v;
  }
}

export function drawGamma(mean: number, shape: number, a: number, b: number): number {
  if (!(mean >= 0) || !(shape > 0)) return NaN;
  begin(a, b);
  return (mean / shape) * nextGamma(shape);
}

export function drawBeta(alpha: number, beta: number, a: number, b: number): number {
  if (!(alpha > 0) || !(beta > 0)) return NaN;
  begin(a, b);
  const x = nextGamma(alpha);
  return x / (x + nextGamma(beta));
}

export function drawWeibull(scale: number, shape: number, a: number, b: number): number {
  return scale >= 0 && shape > 0 ? scale * power(-log(1 - drawUnit(a, b)), 1 / shape) : NaN;
}

export function drawTriangular(from: number, peak: number, to: number, a: number, b: number): number {
  if (!(from <= peak) || !(peak <= to)) return NaN;
  const u = drawUnit(a, b);
  const width = to - from;
  const split = width > 0 ? (peak - from) / width : 0;
  return u < split ? from + Math.sqrt(u * width * (peak - from)) : to - Math.sqrt((1 - u) * width * (to - peak));
}

/** Up to which mean a Poisson number is found by multiplying, and up to how many trials a binomial one trial by trial. */
export const MOST_MULTIPLIED = 30;
export const MOST_TRIALS = 40;

/**
 * Poisson: by multiplying up to a mean of 30, above it split by a gamma into a smaller one.
 * Source: J. H. Ahrens and U. Dieter, Computer methods for sampling from gamma, beta, Poisson and binomial distributions (1974).
 */
export function drawPoisson(mean: number, a: number, b: number): number {
  if (!(mean >= 0) || mean === Infinity) return NaN;
  begin(a, b);
  return nextPoisson(mean);
}

function nextPoisson(mean: number): number {
  let count = 0;
  let rest = mean;
  while (rest > MOST_MULTIPLIED) {
    const m = Math.floor((7 * rest) / 8);
    const x = nextGamma(m);
    if (x > rest) return count + nextBinomial(m - 1, rest / x);
    count += m;
    rest -= x;
  }
  const limit = exp(-rest);
  for (let product = nextPositive(); product > limit; product *= nextPositive()) count++;
  return count;
}

export function drawBinomial(trials: number, p: number, a: number, b: number): number {
  if (!(trials >= 0) || Math.floor(trials) !== trials || !(p >= 0) || !(p <= 1)) return NaN;
  begin(a, b);
  return nextBinomial(trials, p);
}

/** Binomial: split by a beta while there are many trials, then trial by trial (Ahrens and Dieter 1974). */
function nextBinomial(trials: number, p: number): number {
  let count = 0;
  let n = trials;
  let chance = p;
  while (n > MOST_TRIALS) {
    const i = Math.floor((n + 1) / 2);
    const x = nextGamma(i);
    const split = x / (x + nextGamma(n + 1 - i));
    if (split <= chance) {
      count += i;
      n -= i;
      chance = (chance - split) / (1 - split);
    } else {
      n = i - 1;
      chance = chance / split;
    }
  }
  for (let i = 0; i < n; i++) if (drawUnit(nextWord(), nextWord()) < chance) count++;
  return count;
}
