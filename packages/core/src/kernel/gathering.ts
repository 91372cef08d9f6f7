import type * as P from '../plan/plan.ts';
import { exponential } from './exponential.ts';
import type { F64, Local, Numbers } from './kernel.ts';
import {
  both,
  compare,
  compareWhole,
  difference,
  i32,
  load,
  number,
  ofOne,
  plus,
  product,
  put,
  quotient,
  set,
  store,
  sum,
  whole,
} from './kernel.ts';
import { bringToPlace, firstFrom } from './lists.ts';
import type { TurnValues } from './turn-values.ts';

/** One number of many in kernel form, added up in their order, as measures/numeric/gather.ts does it. */

/** Hands on each value, one after another. */
type EachValue = (take: (value: F64) => void) => void;

const NOTHING = number(NaN);

/** How many there were, in a local. */
interface Counted {
  readonly many: Local<'i32'>;
  readonly asNumber: F64;
}

export function writeGather(values: TurnValues, s: Extract<P.Statement, { op: 'gather' }>, each: EachValue): void {
  const { sheet } = values;
  const many = sheet.i32();
  const result = values.held(s.local);
  sheet.add(put(many, whole(0)));
  const count = (): void => sheet.add(put(many, plus(many, whole(1))));
  const counted: Counted = { many, asNumber: { is: 'of i32', value: many } };
  const value = gathered(values, s, counted, (take) =>
    each((one) => {
      const kept = sheet.kept(one);
      take(kept);
      count();
    }),
  );
  sheet.add(set(result, value));
  if (s.site !== undefined) values.checked(result, s.site);
}

function gathered(
  values: TurnValues,
  { fn, query, level }: Extract<P.Statement, { op: 'gather' }>,
  counted: Counted,
  each: EachValue,
): F64 {
  const { sheet } = values;
  const { many, asNumber } = counted;
  const total = sheet.f64();
  const added = (valueOf: (one: F64) => F64): void => {
    sheet.add(set(total, number(0)));
    each((one) => sheet.add(set(total, sum(total, valueOf(one)))));
  };
  const isNobody = compareWhole(many, '==', whole(0));
  switch (fn) {
    case 'sum':
      added((one) => one);
      return total;
    case 'mean':
      added((one) => one);
      return sheet.choose(
        isNobody,
        () => NOTHING,
        () => quotient(total, asNumber),
      );
    case 'geometric mean':
      added((one) => ({ is: 'call', fn: 'log', given: [one] }));
      return sheet.choose(
        isNobody,
        () => NOTHING,
        () => exponential(sheet, sheet.kept(quotient(total, asNumber))),
      );
    case 'min':
    case 'max':
      sheet.add(set(total, NOTHING));
      each((one) => {
        const isBeyond = compare(one, fn === 'max' ? '>' : '<', total);
        sheet.when({ is: 'or else', left: isNobody, right: isBeyond }, () => sheet.add(set(total, one)));
      });
      return total;
    case 'sd':
      return deviation(values, query, counted, each);
    case 'median':
      return quantile(values, query, number(0.5), counted, each);
    case 'quantile':
      return quantile(values, query, values.value(level!), counted, each);
  }
}

/** Room for a value of each that is asked for. */
function roomFor(values: TurnValues, query: P.Query): Numbers {
  const { reads } = values;
  return reads.of({ is: 'weights', list: reads.nextList(), of: reads.roomFor(query) });
}

/** Between the values at two places of their order, which is not made as a whole, as `quantileSorted` of measures/numeric/gather.ts has it. */
function quantile(values: TurnValues, query: P.Query, level: F64, { many, asNumber }: Counted, each: EachValue): F64 {
  const { sheet } = values;
  const kept = roomFor(values, query);
  const share = sheet.kept(level);
  each((one) => sheet.add(store(kept, many, one)));
  const isShare = both(compare(share, '>=', number(0)), compare(share, '<=', number(1)));
  return sheet.choose(
    both(compareWhole(many, '>', whole(0)), isShare),
    () => {
      const at = sheet.kept(product(difference(asNumber, number(1)), share));
      const low = sheet.keptWhole({ is: 'truncated', value: ofOne('floor', at) });
      bringToPlace(sheet, kept, many, low);
      const below = sheet.kept(load(kept, low));
      return sheet.choose(
        compareWhole(plus(low, whole(1)), '<', many),
        () => {
          const above = difference(firstFrom(sheet, kept, many, sheet.keptWhole(plus(low, whole(1)))), below);
          return sum(below, product(difference(at, { is: 'of i32', value: low }), above));
        },
        () => below,
      );
    },
    () => NOTHING,
  );
}

/** Needs all values again once their mean is known. */
function deviation(values: TurnValues, query: P.Query, { many, asNumber }: Counted, each: EachValue): F64 {
  const { sheet } = values;
  const kept = roomFor(values, query);
  const [total, squares, at] = [sheet.f64(), sheet.f64(), i32(`at${many.name}`)];
  sheet.use(at);
  sheet.add(set(total, number(0)));
  each((one) => sheet.add(store(kept, many, one), set(total, sum(total, one))));
  return sheet.choose(
    compareWhole(many, '<', whole(2)),
    () => NOTHING,
    () => {
      const mean = sheet.kept(quotient(total, asNumber));
      const { list } = sheet.apart(() => {
        const off = sheet.kept(difference(load(kept, at), mean));
        sheet.add(set(squares, sum(squares, product(off, off))));
      });
      sheet.add(set(squares, number(0)), { is: 'loop', index: at, from: whole(0), to: many, body: list });
      return ofOne('sqrt', quotient(squares, difference(asNumber, number(1))));
    },
  );
}
