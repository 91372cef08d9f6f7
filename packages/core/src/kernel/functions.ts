import type { PureFunction } from '../plan/functions.ts';
import { PURE_FUNCTIONS } from '../plan/functions.ts';
import type { WriteHow } from '../plan/plan.ts';
import { directionOf } from './directions.ts';
import { exponential } from './exponential.ts';
import type { F64 } from './kernel.ts';
import { called, difference, number, ofOne, product, quotient, sum } from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** Functions of the language in kernel form. Those that are more than a few operations are called. */

/** What a write makes of what is held. */
export function applied(held: F64, how: WriteHow, value: F64): F64 {
  if (how === '=') return value;
  return how === '+=' ? sum(held, value) : product(held, value);
}

/** What a function comes to of values that are worked out. */
export function calledFunction(sheet: Sheet, fn: PureFunction, given: readonly F64[]): F64 {
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
    case 'direction of':
      return directionOf(sheet, a, b);
    default:
      return called(PURE_FUNCTIONS[fn].code, ...given);
  }
}

/** Brought down to the upper bound, then up to the lower one. */
export function clipped(sheet: Sheet, value: F64, low: F64, high: F64): F64 {
  const under = sheet.kept({ is: 'at most', value, bound: high });
  return { is: 'at least', value: under, bound: low };
}
