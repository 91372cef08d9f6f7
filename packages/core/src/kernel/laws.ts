import { LAWS } from '../plan/functions.ts';
import type { Law } from '../plan/functions.ts';
import type { F64, I32 } from './kernel.ts';
import { compare, difference, number, ofOne, product, select, sum, whole, words } from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** Draws from laws in kernel form, as engine/random/laws.ts has them, to the bit. */

const TWO_M53 = 1.1102230246251565e-16;

function unit(a: I32, b: I32): F64 {
  const high = product(unsigned(words('shr', a, whole(5))), number(67108864));
  return product(sum(high, unsigned(words('shr', b, whole(6)))), number(TWO_M53));
}

function unsigned(word: I32): F64 {
  return { is: 'unsigned', word };
}

/** What a law gives for two words of luck. Those that are more than a few operations are called. */
export function drawnFrom(sheet: Sheet, law: Exclude<Law, 'chance'>, args: readonly F64[], a: I32, b: I32): F64 {
  const [from, to] = args.map((arg) => sheet.kept(arg)) as [F64, F64];
  switch (law) {
    case 'unit':
      return unit(a, b);
    case 'uniform':
      return sum(from, product(difference(to, from), unit(a, b)));
    case 'whole': {
      const many = sum(difference(to, from), number(1));
      const drawn = sum(from, ofOne('floor', product(unit(a, b), many)));
      return select(compare(to, '>=', from), drawn, number(NaN));
    }
    default:
      return { is: 'call', fn: LAWS[law].code, given: [...args, unsigned(a), unsigned(b)] };
  }
}
