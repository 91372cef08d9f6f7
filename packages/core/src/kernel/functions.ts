import type { PureFunction } from '../plan/functions.ts';
import { PURE_FUNCTIONS } from '../plan/functions.ts';
import type { WriteHow } from '../plan/plan.ts';
import { directionOf, headingOf, sineAndCosine } from './directions.ts';
import { exponential } from './exponential.ts';
import type { F64, Numbers } from './kernel.ts';
import { called, choose, compare, difference, number, ofOne, product, quotient, sum } from './kernel.ts';
import { logarithm } from './logarithm.ts';
import { powerOf } from './powers.ts';
import type { Sheet } from './sheet.ts';

/** Functions of the language in kernel form, to the bit. What is seldom needed is called. */

/** What a write makes of what is held. */
export function applied(held: F64, how: WriteHow, value: F64): F64 {
  if (how === '=') return value;
  return how === '+=' ? sum(held, value) : product(held, value);
}

/**
 * What a function comes to of values that are worked out.
 * @param tables `TABLES`, asked for where they are needed
 */
export function calledFunction(sheet: Sheet, tables: () => Numbers, fn: PureFunction, given: readonly F64[]): F64 {
  const [a, b, c] = given as [F64, F64, F64];
  switch (fn) {
    case 'abs':
    case 'floor':
    case 'ceiling':
    case 'sqrt':
      return ofOne(fn, a);
    case 'round':
      return ofOne('floor', sum(a, number(0.5)));
    case 'mod':
      return difference(a, product(b, ofOne('floor', quotient(a, b))));
    case 'min':
      return { is: 'at most', value: a, bound: b };
    case 'max':
      return { is: 'at least', value: a, bound: b };
    case 'clip':
      return clipped(sheet, a, b, c);
    case 'exp':
      return exponential(sheet, a);
    case 'log':
      return logarithm(sheet, a);
    case 'power':
      return powerOf(sheet, a, b);
    case 'sin':
      return sineAndCosine(sheet, tables(), a)[0];
    case 'cos':
      return sineAndCosine(sheet, tables(), a)[1];
    case 'tan':
      return quotient(...sineAndCosine(sheet, tables(), a));
    case 'heading':
      return headingOf(sheet, a);
    case 'swing': {
      const turn = headingOf(sheet, difference(b, a));
      return choose(compare(turn, '>', number(180)), difference(turn, number(360)), turn);
    }
    case 'chance of rate':
      return chanceOfRate(sheet, a);
    case 'direction of':
      return directionOf(sheet, a, b);
  }
}

/** Where a rate is small, or none, it is called. */
function chanceOfRate(sheet: Sheet, x: F64): F64 {
  const kept = sheet.kept(x);
  return sheet.choose(
    compare(kept, '>=', number(1e-5)),
    () => difference(number(1), exponential(sheet, { is: 'minus', value: kept })),
    () => called(PURE_FUNCTIONS['chance of rate'].code, kept),
  );
}

/** Brought down to the upper bound, then up to the lower one. */
export function clipped(sheet: Sheet, value: F64, low: F64, high: F64): F64 {
  const under = sheet.kept({ is: 'at most', value, bound: high });
  return { is: 'at least', value: under, bound: low };
}
