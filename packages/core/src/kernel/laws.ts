import { LAWS } from '../plan/functions.ts';
import type { Law } from '../plan/functions.ts';
import { NORMAL_LAYERS, TWO_M53 } from '../engine/random/laws.ts';
import type { F64, I32 } from './kernel.ts';
import { choose, compare, difference, load, number, ofOne, plus, product, sum, whole, words } from './kernel.ts';
import type { Sheet } from './sheet.ts';
import type { TurnReads } from './turn-reads.ts';

/** Draws from laws in kernel form, as engine/random/laws.ts has them, to the bit. */

function unit(a: I32, b: I32): F64 {
  const high = product(unsigned(words('shr', a, whole(5))), number(67108864));
  return product(sum(high, unsigned(words('shr', b, whole(6)))), number(TWO_M53));
}

function unsigned(word: I32): F64 {
  return { is: 'unsigned', word };
}

/** What a law gives for two words of luck. Those that are more than a few operations are called. */
export function drawnFrom(
  sheet: Sheet,
  reads: TurnReads,
  law: Exclude<Law, 'chance'>,
  args: readonly F64[],
  a: I32,
  b: I32,
): F64 {
  const [from, to] = args.map((arg) => sheet.kept(arg)) as [F64, F64];
  switch (law) {
    case 'unit':
      return unit(a, b);
    case 'uniform':
      return sum(from, product(difference(to, from), unit(a, b)));
    case 'whole': {
      const many = sum(difference(to, from), number(1));
      const drawn = sum(from, ofOne('floor', product(unit(a, b), many)));
      return choose(compare(to, '>=', from), drawn, number(NaN));
    }
    case 'normal':
      return normal(sheet, reads, from, to, a, b);
    default:
      return { is: 'call', fn: LAWS[law].code, given: [...args, unsigned(a), unsigned(b)] };
  }
}

/** Mostly one look at the layer is enough; the rest is called. */
function normal(sheet: Sheet, reads: TurnReads, mean: F64, sd: F64, a: I32, b: I32): F64 {
  const layers = reads.of({ is: 'layers' });
  const layer = sheet.keptWhole(words('mask', a, whole(NORMAL_LAYERS - 1)));
  const high = product(unsigned(words('shr', a, whole(7))), number(268435456));
  const parts = sum(high, unsigned(words('shr', b, whole(4))));
  const u = sheet.kept(difference(product(parts, number(2.220446049250313e-16)), number(1)));
  const drawn = sum(mean, product(sd, product(u, load(layers, layer))));
  const isInside = compare(ofOne('abs', u), '<', load(layers, plus(layer, whole(NORMAL_LAYERS + 1))));
  const called: F64 = { is: 'call', fn: LAWS.normal.code, given: [mean, sd, unsigned(a), unsigned(b)] };
  return choose({ is: 'and then', left: isInside, right: compare(sd, '>=', number(0)) }, drawn, called);
}
