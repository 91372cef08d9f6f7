import { SINES } from './sines.ts';

/**
 * Functions of which the language standard leaves the last bits open, computed from + - * / alone so that every
 * machine gives the same bits. Exponential and logarithm follow FreeBSD's msun (e_exp.c, e_log.c):
 * Copyright (C) 1993 by Sun Microsystems, Inc. All rights reserved. Developed at
 * SunPro; permission to use, copy, modify and distribute is freely granted, provided that this notice is preserved.
 */

export const LN2_HI = 6.9314718036912381649e-1;
export const LN2_LO = 1.90821492927058770002e-10;
export const INV_LN2 = 1.442695040888963387;

const bits = new Float64Array(1);
const words = new Uint32Array(bits.buffer);

/** 2^k for whole k from -1022 to 1023. */
export function powerOfTwo(k: number): number {
  words[0] = 0;
  words[1] = (k + 1023) << 20;
  return bits[0]!;
}

/** The upper 32 of the 64 bits of a number. */
export function highWord(x: number): number {
  bits[0] = x;
  return words[1]! | 0;
}

/** e^x; error below one unit in the last place. Infinity above 709.78, 0 below -745.13. */
export function exp(x: number): number {
  if (x !== x) return NaN;
  if (x > 709.782712893383973096) return Infinity;
  if (x < -745.13321910194110842) return 0;
  const k = Math.floor(INV_LN2 * x + 0.5);
  const hi = x - k * LN2_HI;
  const lo = k * LN2_LO;
  const r = hi - lo;
  const t = r * r;
  const c =
    r -
    t *
      (1.66666666666666019037e-1 +
        t *
          (-2.77777777770155933842e-3 +
            t * (6.61375632143793436117e-5 + t * (-1.6533902205465251539e-6 + t * 4.13813679705723846039e-8))));
  const y = 1 - (lo - (r * c) / (2 - c) - hi);
  if (k > 1023) return y * 2 * powerOfTwo(k - 1);
  if (k >= -1021) return y * powerOfTwo(k);
  return y * powerOfTwo(k + 1000) * powerOfTwo(-1000);
}

/** Natural logarithm; error below one unit in the last place. NaN below 0, -Infinity at 0. */
export function log(x: number): number {
  if (!(x > 0)) return x === 0 ? -Infinity : NaN;
  if (x === Infinity) return Infinity;
  let k = 0;
  let m = x;
  if (m < 2.2250738585072014e-308) {
    m *= 18014398509481984;
    k = -54;
  }
  bits[0] = m;
  const high = words[1]!;
  k += (high >>> 20) - 1023;
  const fraction = high & 0xfffff;
  const up = (fraction + 0x95f64) & 0x100000;
  words[1] = fraction | (up ^ 0x3ff00000);
  k += up >>> 20;
  const f = bits[0] - 1;
  const s = f / (2 + f);
  const z = s * s;
  const w = z * z;
  const t1 = w * (3.999999999940941908e-1 + w * (2.222219843214978396e-1 + w * 1.531383769920937332e-1));
  const t2 =
    z *
    (6.66666666666673513e-1 +
      w * (2.857142874366239149e-1 + w * (1.818357216161805012e-1 + w * 1.479819860511658591e-1)));
  const half = 0.5 * f * f;
  return k * LN2_HI - (half - (s * (half + t1 + t2) + k * LN2_LO) - f);
}

/** Whole exponents up to this one are taken by repeated multiplication. */
export const MOST_REPEATED = 64;

/** x^y. Whole exponents up to 64 by repeated multiplication, others as e^(y log x): relative error about |y log x| 2^-53. */
export function power(x: number, y: number): number {
  if (y === 0) return 1;
  if (y === 0.5) return Math.sqrt(x);
  if (Math.floor(y) === y && y <= MOST_REPEATED && y >= -MOST_REPEATED) {
    let base = x;
    let result = 1;
    for (let n = Math.abs(y); n > 0; n = Math.floor(n / 2)) {
      if (n % 2 === 1) result *= base;
      base *= base;
    }
    return y < 0 ? 1 / result : result;
  }
  if (x === 0) return y > 0 ? 0 : Infinity;
  return exp(y * log(x));
}

/** A degree in radians. */
export const RADIANS = 0.017453292519943295;

/** An angle beyond which the nearest whole degree is looked for within one turn. */
export const MANY_DEGREES = 2147483648;

/** A degree in turns: a product with it, made whole, is as good as a division here, as `SINES` hold 0 and 360 degrees both. */
export const TURNS = 1 / 360;

/** The place in `SINES` of the whole degree that is nearest to an angle, found in `nearestTo`. */
let nearest = 0;

/** Finds the whole degree nearest to an angle. @returns what is left of the angle, in radians */
function nearestTo(angle: number): number {
  const a = Math.abs(angle) < MANY_DEGREES ? angle : heading(angle);
  const whole = Math.floor(a + 0.5);
  nearest = whole - 360 * Math.floor(whole * TURNS);
  return (a - whole) * RADIANS;
}

/** Sine of at most half a degree, given in radians. */
function smallSine(r: number): number {
  const z = r * r;
  return r + r * z * (-1.6666666666666666e-1 + z * 8.333333333333333e-3);
}

/** Its cosine, less 1. */
function smallCosineLess(r: number): number {
  const z = r * r;
  return z * (-0.5 + z * (4.1666666666666664e-2 + z * -1.388888888888889e-3));
}

/** Sine of an angle in degrees, by that of the nearest whole degree; error below two and a half units in the last place, exact at multiples of 30. */
export function sinDegrees(angle: number): number {
  const r = nearestTo(angle);
  const sine = SINES[nearest]!;
  return sine + (sine * smallCosineLess(r) + SINES[nearest + 90]! * smallSine(r));
}

/** Cosine of an angle in degrees, by those of the nearest whole degree; error below two and a half units in the last place, exact at multiples of 60 and 90. */
export function cosDegrees(angle: number): number {
  const r = nearestTo(angle);
  const cosine = SINES[nearest + 90]!;
  return cosine + (cosine * smallCosineLess(r) - SINES[nearest]! * smallSine(r));
}

export function tanDegrees(angle: number): number {
  return sinDegrees(angle) / cosDegrees(angle);
}

/** Arc tangent of t from 0 to 1 in radians: halved twice, then its series. */
function arcTangent(t: number): number {
  let u = t / (1 + Math.sqrt(1 + t * t));
  u = u / (1 + Math.sqrt(1 + u * u));
  const z = u * u;
  let sum = 0;
  for (let k = 23; k >= 3; k -= 2) sum = z * (1 / k - sum);
  return 4 * (u - u * sum);
}

/** Compass bearing of the way (dx, dy), x right, y up: degrees from 0 to below 360, 0 up, 90 right. */
export function bearingDegrees(dx: number, dy: number): number {
  const ax = Math.abs(dx);
  const ay = Math.abs(dy);
  if (ax === 0 && ay === 0) return 0;
  const steep = ay >= ax;
  const angle = arcTangent(steep ? ax / ay : ay / ax) / RADIANS;
  const fromUp = steep ? angle : 90 - angle;
  if (dx >= 0) return dy >= 0 ? fromUp : 180 - fromUp;
  const turned = dy >= 0 ? 360 - fromUp : 180 + fromUp;
  return turned >= 360 ? 0 : turned;
}

/** An angle brought to 0 up to below 360 degrees. */
export function heading(angle: number): number {
  if (angle >= 0 && angle < 360) return angle;
  // The remainder is exact however large the angle is.
  const rest = angle % 360;
  const turned = rest < 0 ? rest + 360 : rest;
  return turned >= 360 || turned === 0 ? 0 : turned;
}

/** The signed turn from one direction to another, above -180 up to 180 degrees. */
export function swing(from: number, to: number): number {
  const turn = heading(to - from);
  return turn > 180 ? turn - 360 : turn;
}

/** The chance that something of a rate happens within a time, given rate times time: 1 - e^-x, 0 for x below 0. */
export function chanceOfRate(x: number): number {
  if (!(x > 0)) return x <= 0 ? 0 : NaN;
  if (x < 1e-5) return x * (1 - x * (0.5 - x / 6));
  return 1 - exp(-x);
}

/** x minus the greatest multiple of m not above it: from 0 up to m for m above 0. */
export function mod(x: number, m: number): number {
  return x - m * Math.floor(x / m);
}

/** Brought down to the upper bound, then up to the lower one, which holds where they pass one another: once or twice is the same. */
export function clip(x: number, low: number, high: number): number {
  const under = x > high ? high : x;
  return under < low ? low : under;
}

/** To the nearest whole number; halves go up. */
export function roundHalfUp(x: number): number {
  return Math.floor(x + 0.5);
}

/** The compass direction of a sum of unit vectors, to the right and up; 0 if they cancel. */
export function directionOf(x: number, y: number): number {
  return Math.abs(x) + Math.abs(y) < 1e-12 ? 0 : bearingDegrees(x, y);
}

/** The coordinate that lies a distance ahead of a direction given by its sine and cosine, turned by some degrees. */
export function aheadOnAxis(
  axis: 'x' | 'y',
  from: number,
  distance: number,
  sine: number,
  cosine: number,
  aside: number,
): number {
  if (aside === 0) return from + distance * (axis === 'x' ? sine : cosine);
  const s = sinDegrees(aside);
  const c = cosDegrees(aside);
  return from + distance * (axis === 'x' ? sine * c + cosine * s : cosine * c - sine * s);
}

/** Turns an agent: its direction from 0 to below 360 degrees, with the sine and cosine of it. */
export function turnTo(
  direction: Float64Array,
  sine: Float64Array,
  cosine: Float64Array,
  slot: number,
  angle: number,
): void {
  const d = heading(angle);
  direction[slot] = d;
  // As `sinDegrees` and `cosDegrees`, both in one go.
  const whole = (d + 0.5) | 0;
  const r = (d - whole) * RADIANS;
  const [s, c] = [SINES[whole]!, SINES[whole + 90]!];
  const [small, less] = [smallSine(r), smallCosineLess(r)];
  sine[slot] = s + (s * less + c * small);
  cosine[slot] = c + (c * less - s * small);
}
