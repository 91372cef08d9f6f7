import { LN2_HI, LN2_LO } from '../math.ts';
import type { F64 } from './kernel.ts';
import {
  both,
  compare,
  difference,
  minus,
  number,
  plus,
  product,
  quotient,
  series,
  set,
  sum,
  whole,
  words,
} from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** The natural logarithm in kernel form, as `log` of math.ts has it, to the bit. */

/** The two series there, which have their numbers written out for speed. */
const EVEN_SERIES = [3.999999999940941908e-1, 2.222219843214978396e-1, 1.531383769920937332e-1];
const ODD_SERIES = [6.66666666666673513e-1, 2.857142874366239149e-1, 1.818357216161805012e-1, 1.479819860511658591e-1];
/** Between these a number is brought to about 1 by one power of two, without a loss. */
const LEAST = 1e-300;
const MOST = 1e300;

export function logarithm(sheet: Sheet, x: F64): F64 {
  const [at, found] = [sheet.kept(x), sheet.f64()];
  sheet.when(
    both(compare(at, '>=', number(LEAST)), compare(at, '<=', number(MOST))),
    () => {
      const high = sheet.keptWhole({ is: 'high word', value: at });
      const fraction = words('mask', high, whole(0xfffff));
      const up = words('shr', words('mask', plus(fraction, whole(0x95f64)), whole(0x100000)), whole(20));
      const exponent = sheet.keptWhole(plus(minus(words('shr', high, whole(20)), whole(1023)), up));
      const downTo: F64 = { is: 'power of two', exponent: minus(whole(0), exponent) };
      const k = sheet.kept({ is: 'of i32', value: exponent });
      const f = sheet.kept(difference(product(at, downTo), number(1)));
      const s = sheet.kept(quotient(f, sum(number(2), f)));
      const z = sheet.kept(product(s, s));
      const w = sheet.kept(product(z, z));
      const half = sheet.kept(product(product(number(0.5), f), f));
      const rest = sum(half, product(w, series(w, EVEN_SERIES)), product(z, series(w, ODD_SERIES)));
      const low = sum(product(s, rest), product(k, number(LN2_LO)));
      sheet.add(set(found, difference(product(k, number(LN2_HI)), difference(difference(half, low), f))));
    },
    () => sheet.add(set(found, { is: 'call', fn: 'log', given: [at] })),
  );
  return found;
}
