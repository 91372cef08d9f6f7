import type { RandomStream } from '../engine/random/stream.ts';
import * as laws from '../engine/random/laws.ts';
import * as math from '../math.ts';

/** What functions and laws of the language come to when a model runs; how they are called and checked is told in language/functions.ts. */

interface FunctionMeaning {
  readonly apply: (a: number, b: number, c: number) => number;
  /** The function of generated code that does the same, to the bit. */
  readonly code: string;
  /** Whether it may give no number, so that its value is looked at. */
  readonly mayLeaveNumbers?: boolean;
}

const meanings = {
  abs: { apply: Math.abs, code: 'Math.abs' },
  min: { apply: (a, b) => (b < a ? b : a), code: 'least' },
  max: { apply: (a, b) => (b > a ? b : a), code: 'greatest' },
  clip: { apply: math.clip, code: 'clip' },
  mod: { apply: math.mod, code: 'mod', mayLeaveNumbers: true },
  round: { apply: math.roundHalfUp, code: 'roundHalfUp' },
  floor: { apply: Math.floor, code: 'Math.floor' },
  ceiling: { apply: Math.ceil, code: 'Math.ceil' },
  sqrt: { apply: Math.sqrt, code: 'Math.sqrt', mayLeaveNumbers: true },
  exp: { apply: math.exp, code: 'exp', mayLeaveNumbers: true },
  log: { apply: math.log, code: 'log', mayLeaveNumbers: true },
  sin: { apply: math.sinDegrees, code: 'sinDegrees' },
  cos: { apply: math.cosDegrees, code: 'cosDegrees' },
  tan: { apply: math.tanDegrees, code: 'tanDegrees', mayLeaveNumbers: true },
  swing: { apply: math.swing, code: 'swing' },
  // Not called by a name in a text.
  power: { apply: math.power, code: 'power', mayLeaveNumbers: true },
  'chance of rate': { apply: math.chanceOfRate, code: 'chanceOfRate' },
  heading: { apply: math.heading, code: 'heading' },
  'direction of': { apply: math.directionOf, code: 'directionOf' },
} as const satisfies Readonly<Record<string, FunctionMeaning>>;

export type PureFunction = keyof typeof meanings;
export const PURE_FUNCTIONS: Readonly<Record<PureFunction, FunctionMeaning>> = meanings;

/** The value of a function of numbers. */
export function applied(fn: PureFunction, args: readonly number[]): number {
  const [a = 0, b = 0, c = 0] = args;
  return PURE_FUNCTIONS[fn].apply(a, b, c);
}

/** Whether a name of a text is that of a function of numbers. */
export function isPureFunction(name: string): name is PureFunction {
  return Object.hasOwn(PURE_FUNCTIONS, name);
}

interface LawMeaning {
  /** A draw from two words of the stream of luck, with up to three parameters before them. */
  readonly draw: (p: number, q: number, r: number, a: number, b: number) => number;
  /** The function of generated code that does the same, given the parameters of the law and the two words. */
  readonly code: string;
}

const lawMeanings = {
  unit: { draw: (_p, _q, _r, a, b) => laws.drawUnit(a, b), code: 'drawUnit' },
  uniform: { draw: (from, to, _r, a, b) => laws.drawUniform(from, to, a, b), code: 'drawUniform' },
  normal: { draw: (mean, sd, _r, a, b) => laws.drawNormal(mean, sd, a, b), code: 'drawNormal' },
  lognormal: { draw: (mean, sd, _r, a, b) => laws.drawLognormal(mean, sd, a, b), code: 'drawLognormal' },
  exponential: { draw: (mean, _q, _r, a, b) => laws.drawExponential(mean, a, b), code: 'drawExponential' },
  gamma: { draw: (mean, shape, _r, a, b) => laws.drawGamma(mean, shape, a, b), code: 'drawGamma' },
  beta: { draw: (p, q, _r, a, b) => laws.drawBeta(p, q, a, b), code: 'drawBeta' },
  weibull: { draw: (scale, shape, _r, a, b) => laws.drawWeibull(scale, shape, a, b), code: 'drawWeibull' },
  triangular: { draw: laws.drawTriangular, code: 'drawTriangular' },
  poisson: { draw: (mean, _q, _r, a, b) => laws.drawPoisson(mean, a, b), code: 'drawPoisson' },
  binomial: { draw: (trials, chance, _r, a, b) => laws.drawBinomial(trials, chance, a, b), code: 'drawBinomial' },
  whole: { draw: (from, to, _r, a, b) => laws.drawWhole(from, to, a, b), code: 'drawWhole' },
} as const satisfies Readonly<Record<string, LawMeaning>>;

/** A law, or a chance, which takes one word of the stream and not two. */
export type Law = keyof typeof lawMeanings | 'chance';
export const LAWS: Readonly<Record<Exclude<Law, 'chance'>, LawMeaning>> = lawMeanings;

/** A draw from a law: one word of the stream for a chance, two for every other law. */
export function drawLaw(law: Law, args: readonly number[], stream: RandomStream): number {
  const [p = 0, q = 0, r = 0] = args;
  const a = stream.word();
  if (law === 'chance') return p !== p ? NaN : laws.drawChance(p, a);
  return LAWS[law].draw(p, q, r, a, stream.word());
}
