import { MANY_DEGREES, RADIANS, TURNS } from '../math.ts';
import type { F64, I32, Numbers, Test } from './kernel.ts';
import {
  both,
  called,
  choose,
  compare,
  difference,
  load,
  number,
  ofOne,
  plus,
  product,
  quotient,
  series,
  set,
  store,
  sum,
  whole,
} from './kernel.ts';
import type { Sheet } from './sheet.ts';
import { SINES_AT } from './tables.ts';

/** Directions of agents in kernel form, as math.ts has them, to the bit. */

/** The series of `smallSine` and `smallCosineLess` there, which have their numbers written out for speed. */
const SMALL_SINE = [-1.6666666666666666e-1, 8.333333333333333e-3];
const SMALL_COSINE_LESS = [-0.5, 4.1666666666666664e-2, -1.388888888888889e-3];

/** The columns in which a direction is kept. */
export interface DirectionColumns {
  readonly direction: Numbers;
  readonly sine: Numbers;
  readonly cosine: Numbers;
  readonly tables: Numbers;
}

/** An angle brought to 0 up to below 360 degrees. */
export function headingOf(sheet: Sheet, angle: F64): F64 {
  const [a, d] = [sheet.kept(angle), sheet.f64()];
  const isBetween = (low: number, high: number): Test =>
    both(compare(a, '>=', number(low)), compare(a, '<', number(high)));
  sheet.add(set(d, a));
  sheet.when({ is: 'not', test: isBetween(0, 360) }, () =>
    sheet.when(
      isBetween(360, 720),
      () => sheet.add(set(d, difference(a, number(360)))),
      () =>
        sheet.when(
          both(compare(a, '<', number(0)), compare(a, '>', number(-360))),
          () => {
            sheet.add(set(d, sum(a, number(360))));
            sheet.when(compare(d, '>=', number(360)), () => sheet.add(set(d, number(0))));
          },
          () => sheet.add(set(d, { is: 'call', fn: 'heading', given: [a] })),
        ),
    ),
  );
  return d;
}

/** Arc tangent of t from 0 to 1 in radians. */
function arcTangent(sheet: Sheet, t: F64): F64 {
  const halved = (u: F64): F64 => sheet.kept(quotient(u, sum(number(1), ofOne('sqrt', sum(number(1), product(u, u))))));
  const u = halved(sheet.kept(halved(t)));
  const z = sheet.kept(product(u, u));
  let series: F64 = number(0);
  for (let k = 23; k >= 3; k -= 2) series = product(z, difference(number(1 / k), series));
  return product(number(4), difference(u, product(u, series)));
}

/** The compass bearing of a way, as `bearingDegrees` has it. */
export function bearingOf(sheet: Sheet, dx: F64, dy: F64): F64 {
  const [x, y] = [sheet.kept(dx), sheet.kept(dy)];
  const [ax, ay] = [sheet.kept(ofOne('abs', x)), sheet.kept(ofOne('abs', y))];
  const bearing = sheet.f64();
  const isNowhere = both(compare(ax, '==', number(0)), compare(ay, '==', number(0)));
  sheet.when(
    isNowhere,
    () => sheet.add(set(bearing, number(0))),
    () => {
      const isSteep = compare(ay, '>=', ax);
      const t = sheet.kept(choose(isSteep, quotient(ax, ay), quotient(ay, ax)));
      const angle = sheet.kept(quotient(arcTangent(sheet, t), number(RADIANS)));
      const fromUp = sheet.kept(choose(isSteep, angle, difference(number(90), angle)));
      const isUp = compare(y, '>=', number(0));
      sheet.when(
        compare(x, '>=', number(0)),
        () => sheet.add(set(bearing, choose(isUp, fromUp, difference(number(180), fromUp)))),
        () => {
          const turned = sheet.kept(choose(isUp, difference(number(360), fromUp), sum(number(180), fromUp)));
          sheet.add(set(bearing, choose(compare(turned, '>=', number(360)), number(0), turned)));
        },
      );
    },
  );
  return bearing;
}

/** The direction of a sum of unit vectors, as `directionOf` has it. */
export function directionOf(sheet: Sheet, x: F64, y: F64): F64 {
  const cancel = compare(sum(ofOne('abs', x), ofOne('abs', y)), '<', number(1e-12));
  return sheet.choose(
    cancel,
    () => number(0),
    () => bearingOf(sheet, x, y),
  );
}

/** Sine and cosine of an angle by those of a whole degree, from which it is at most half a degree away, given in radians. */
function byWholeDegree(sheet: Sheet, tables: Numbers, degree: I32, away: F64): readonly [F64, F64] {
  const s = sheet.kept(load(tables, plus(degree, whole(SINES_AT))));
  const c = sheet.kept(load(tables, plus(degree, whole(SINES_AT + 90))));
  const z = sheet.kept(product(away, away));
  const sine = sheet.kept(sum(away, product(product(away, z), series(z, SMALL_SINE))));
  const less = sheet.kept(product(z, series(z, SMALL_COSINE_LESS)));
  return [
    sheet.kept(sum(s, sum(product(s, less), product(c, sine)))),
    sheet.kept(sum(c, difference(product(c, less), product(s, sine)))),
  ];
}

/** Sine and cosine of an angle in degrees, as `sinDegrees` and `cosDegrees` have them. */
export function sineAndCosine(sheet: Sheet, tables: Numbers, angle: F64): readonly [F64, F64] {
  const a = sheet.f64();
  sheet.add(set(a, angle));
  sheet.when({ is: 'not', test: compare(ofOne('abs', a), '<', number(MANY_DEGREES)) }, () =>
    sheet.add(set(a, called('heading', a))),
  );
  const degrees = sheet.kept(ofOne('floor', sum(a, number(0.5))));
  const away = sheet.kept(product(difference(a, degrees), number(RADIANS)));
  const turns = ofOne('floor', product(degrees, number(TURNS)));
  const degree = sheet.keptWhole({ is: 'truncated', value: difference(degrees, product(number(360), turns)) });
  return byWholeDegree(sheet, tables, degree, away);
}

/** Turns an agent, as `turnTo` does. */
export function writeTurn(sheet: Sheet, columns: DirectionColumns, slot: I32, angle: F64): void {
  const d = headingOf(sheet, angle);
  const degree = sheet.keptWhole({ is: 'truncated', value: sum(d, number(0.5)) });
  const away = sheet.kept(product(difference(d, { is: 'of i32', value: degree }), number(RADIANS)));
  const [sine, cosine] = byWholeDegree(sheet, columns.tables, degree, away);
  sheet.add(store(columns.direction, slot, d), store(columns.sine, slot, sine), store(columns.cosine, slot, cosine));
}

/** Turns an agent as it is thrown back at the walls of a space, by where its way would have ended: `directionAfter` of forms/space.ts. */
export function writeTurnBack(
  sheet: Sheet,
  columns: DirectionColumns,
  slot: I32,
  ends: readonly { readonly at: F64; readonly size: F64 }[],
  margin: number,
): void {
  const direction: F64 = { is: 'load', column: columns.direction, at: slot };
  const [backX, backY] = ends.map(({ at, size }) => {
    const v = sheet.kept(sum(at, number(margin)));
    const rounds = sheet.kept({ is: 'of one', fn: 'floor', value: quotient(v, size) });
    const even = product(number(2), { is: 'of one', fn: 'floor', value: quotient(rounds, number(2)) });
    return both(compare(difference(rounds, even), '!=', number(0)), compare(v, '!=', size));
  });
  const mirrored = sheet.kept(choose(backX!, difference(number(360), direction), direction));
  const after = headingOf(sheet, choose(backY!, difference(number(180), mirrored), mirrored));
  writeTurn(sheet, columns, slot, after);
}
