import { INV_LN2, LN2_HI, LN2_LO } from '../math.ts';
import type { F64 } from './kernel.ts';
import { both, compare, difference, number, ofOne, product, quotient, series, set, sum } from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** e^x in kernel form, as `exp` of math.ts has it, to the bit. */

/** The series there, which has its numbers written out for speed. */
const SERIES = [
  1.66666666666666019037e-1, -2.77777777770155933842e-3, 6.61375632143793436117e-5, -1.6533902205465251539e-6,
  4.13813679705723846039e-8,
];
/** Between these the power of two that is left is one number. */
const [LEAST, MOST] = [-707, 709];

export function exponential(sheet: Sheet, x: F64): F64 {
  const [at, found] = [sheet.kept(x), sheet.f64()];
  sheet.when(
    both(compare(at, '>=', number(LEAST)), compare(at, '<=', number(MOST))),
    () => {
      const k = sheet.kept(ofOne('floor', sum(product(number(INV_LN2), at), number(0.5))));
      const hi = sheet.kept(difference(at, product(k, number(LN2_HI))));
      const lo = sheet.kept(product(k, number(LN2_LO)));
      const r = sheet.kept(difference(hi, lo));
      const t = sheet.kept(product(r, r));
      const c = sheet.kept(difference(r, product(t, series(t, SERIES))));
      const y = difference(
        number(1),
        difference(difference(lo, quotient(product(r, c), difference(number(2), c))), hi),
      );
      sheet.add(set(found, product(y, { is: 'power of two', exponent: { is: 'truncated', value: k } })));
    },
    () => sheet.add(set(found, { is: 'call', fn: 'exp', given: [at] })),
  );
  return found;
}
