import { expect, it } from 'vitest';
import { cosDegrees, sinDegrees, turnTo } from './math.ts';
import { SINES } from './sines.ts';

/** Numbers with so many binary places, as whole ones. */
const PLACES = 160n;
const ONE = 1n << PLACES;
const PI = (31415926535897932384626433832795028841971693993751058209749445923n * ONE) / 10n ** 64n;

/** The sine of an angle in degrees and of some more, by its series in whole numbers. */
function exactSine(degrees: number, more = 0): bigint {
  // A number times 2^80 is a whole one here, as none is nearer to 0 than 2^-27.
  const radians = ((BigInt(degrees * 2 ** 80) + (BigInt(more) << 80n)) * PI) / (180n << 80n);
  const square = (radians * radians) >> PLACES;
  let [term, sum] = [radians, radians];
  for (let k = 2n; term !== 0n && term !== -1n; k += 2n) {
    term = -((term * square) >> PLACES) / (k * (k + 1n));
    sum += term;
  }
  return sum;
}

/** How far a number is from an exact one, in units of its last place. */
function unitsApart(value: number, exact: bigint): number {
  const unit = 2 ** (Math.floor(Math.log2(Math.abs(value))) - 52);
  return Math.abs(Number(BigInt(value * 2 ** 120) * (ONE >> 120n) - exact)) / Number(ONE) / unit;
}

it('sines of whole degrees are the numbers nearest to them', () => {
  for (let degrees = 0; degrees <= 450; degrees++) {
    if (degrees % 180 === 0) expect(SINES[degrees]).toBe(0);
    else expect(unitsApart(SINES[degrees]!, exactSine(degrees))).toBeLessThanOrEqual(0.501);
  }
});

it('sine and cosine of any angle are less than two and a half units in the last place off', () => {
  for (let i = 1; i < 6000; i++) {
    const angle = (i * 0.12037) % 360;
    expect(unitsApart(sinDegrees(angle), exactSine(angle))).toBeLessThan(2.5);
    expect(unitsApart(cosDegrees(angle), exactSine(angle, angle < 270 ? 90 : -270))).toBeLessThan(2.5);
  }
});

it('they are exact where people expect it, and periodic as far as numbers reach', () => {
  expect([0, 30, 90, 150, 180, 210, 270, 330, 360, -30, -90].map(sinDegrees)).toEqual([
    0, 0.5, 1, 0.5, 0, -0.5, -1, -0.5, 0, -0.5, -1,
  ]);
  expect([0, 60, 90, 120, 180, 240, 270, 300, 360, -60].map(cosDegrees)).toEqual([
    1, 0.5, 0, -0.5, -1, -0.5, 0, 0.5, 1, 0.5,
  ]);
  for (const turns of [1, 7, 5965232, 5965233, -5965233, 2 ** 40]) {
    expect(sinDegrees(360 * turns + 30)).toBe(0.5);
    expect(cosDegrees(360 * turns + 60)).toBe(0.5);
  }
  expect([sinDegrees(1e-300), sinDegrees(-1e-300)].map((s) => s / 1.7453292519943295e-302)).toEqual([1, -1]);
  expect([NaN, Infinity, -Infinity].flatMap((angle) => [sinDegrees(angle), cosDegrees(angle)])).toEqual(
    Array.from({ length: 6 }, () => NaN),
  );
});

it('agents turn to the sine and cosine of their direction, also one below 360 by next to nothing', () => {
  const [direction, sine, cosine] = [new Float64Array(1), new Float64Array(1), new Float64Array(1)];
  for (const angle of [359.99999999999994, 359.5, 0.5, 0.49999999999999994, 89.5, 44.5, -1e-20, 1e20]) {
    turnTo(direction, sine, cosine, 0, angle);
    expect([sine[0], cosine[0]]).toEqual([sinDegrees(direction[0]!), cosDegrees(direction[0]!)]);
  }
});
