import { formOf } from '../forms/forms.ts';
import type { Edge } from '../forms/form.ts';
import * as P from '../plan/plan.ts';
import type { F64, I32, Local, Test } from './kernel.ts';
import {
  both,
  choose,
  compare,
  compareWhole,
  difference,
  ENDLESS,
  minus,
  number,
  ofOne,
  plus,
  product,
  put,
  quotient,
  set,
  sum,
  times,
  whole,
} from './kernel.ts';
import type { MaskedCells } from './masks.ts';
import type { Coordinates } from './places.ts';
import { isSet } from './masks.ts';
import type { Sheet } from './sheet.ts';
import type { TurnValues } from './turn-values.ts';

/** Ways that end before obstacles, in kernel form: `shareBefore` of engine/zones.ts. */

const [ZERO, ONE] = [number(0), number(1)];

/** One axis of a way while it is gone cell by cell: the column or row, by how much it changes, when it does so next, and how often that is. */
interface Axis {
  readonly index: Local<'i32'>;
  readonly step: I32;
  readonly next: Local<'f64'>;
  readonly per: F64;
}

function axisOf(sheet: Sheet, from: F64, to: F64, cell: F64, margin: number): Axis {
  const at = sheet.kept(quotient(sum(from, number(margin)), cell));
  const way = sheet.kept(difference(quotient(sum(to, number(margin)), cell), at));
  const first = sheet.kept(ofOne('floor', at));
  const [index, next] = [sheet.i32(), sheet.f64()];
  const isStill = compare(way, '==', ZERO);
  const isOn = compare(way, '>', ZERO);
  const border = difference(sum(first, choose(isOn, ONE, ZERO)), at);
  const step = sheet.keptWhole({ is: 'i32 select', test: isOn, then: whole(1), else: whole(-1) });
  sheet.add(
    put(index, { is: 'truncated', value: first }),
    set(next, choose(isStill, number(Infinity), quotient(border, way))),
  );
  const per = choose(isStill, number(Infinity), quotient({ is: 'of i32', value: step }, way));
  return { index, step, next, per: sheet.kept(per) };
}

/** A column or row beyond the edge brought in, as `onAxis` there does it. */
function onAxis(sheet: Sheet, index: I32, count: F64, edge: Edge): I32 {
  const [found, many] = [sheet.i32(), sheet.keptWhole({ is: 'truncated', value: count })];
  const isInside = both(compareWhole(index, '>=', whole(0)), compareWhole(index, '<', many));
  const less = (rounds: F64): I32 => {
    const of: F64 = { is: 'of i32', value: index };
    return { is: 'truncated', value: difference(of, product(rounds, ofOne('floor', quotient(of, rounds)))) };
  };
  sheet.add(put(found, index));
  sheet.when({ is: 'not', test: isInside }, () => {
    if (edge === 'wrapping') return sheet.add(put(found, less(count)));
    const last = minus(many, whole(1));
    const isBelow = compareWhole(index, '<', whole(0));
    if (edge === 'walled')
      return sheet.add(put(found, { is: 'i32 select', test: isBelow, then: whole(0), else: last }));
    const twice = sheet.keptWhole(less(product(number(2), count)));
    const isBack: Test = compareWhole(twice, '>=', many);
    const back = minus(minus(times(many, whole(2)), whole(1)), twice);
    sheet.add(put(found, { is: 'i32 select', test: isBack, then: back, else: twice }));
  });
  return found;
}

/** How much of a way can be gone before it meets an obstacle, 0 to 1. */
function freeShare(sheet: Sheet, { inside, cells }: MaskedCells, across: Axis, up: Axis): Local<'f64'> {
  const [share, at, round] = [sheet.f64(), sheet.f64(), sheet.i32()];
  const name = `way${share.name}`;
  const leave = (): void => sheet.add({ is: 'leave', block: name });
  const go =
    ({ index, step, next, per }: Axis) =>
    (): void =>
      sheet.add(put(index, plus(index, step)), set(next, sum(next, per)));
  const { list } = sheet.apart(() => {
    const isAcross = compare(across.next, '<', up.next);
    sheet.add(set(at, choose(isAcross, across.next, up.next)));
    sheet.when({ is: 'not', test: compare(at, '<=', ONE) }, leave);
    sheet.when(isAcross, go(across), go(up));
    const row = onAxis(sheet, up.index, cells.rows, cells.edge);
    const column = onAxis(sheet, across.index, cells.columns, cells.edge);
    const cell = sheet.keptWhole(plus(times(row, { is: 'truncated', value: cells.columns }), column));
    sheet.when(isSet(inside, cell), () => {
      sheet.add(set(share, at));
      leave();
    });
  });
  sheet.add(set(share, ONE), {
    is: 'block',
    name,
    body: [{ is: 'loop', index: round, from: whole(0), to: ENDLESS, body: list }],
  });
  return share;
}

/** Where a way ends that obstacles may stand in. */
export function endBefore(
  { sheet, sight }: TurnValues,
  kind: number,
  mask: MaskedCells,
  from: Coordinates,
  to: Coordinates,
): Coordinates {
  const { margin } = formOf(P.spaceOfKind(sight.plan, kind)!);
  const { cell } = mask.cells;
  const [across, up] = [axisOf(sheet, from.x, to.x, cell, margin), axisOf(sheet, from.y, to.y, cell, margin)];
  const share = freeShare(sheet, mask, across, up);
  const [x, y] = [sheet.f64(), sheet.f64()];
  sheet.add(set(x, to.x), set(y, to.y));
  sheet.when(compare(share, '<', ONE), () => {
    const [dx, dy] = [sheet.kept(difference(to.x, from.x)), sheet.kept(difference(to.y, from.y))];
    const length = ofOne('sqrt', sum(product(dx, dx), product(dy, dy)));
    const back = sheet.kept(difference(share, quotient(product(number(1e-6), cell), length)));
    const gone = sheet.kept(choose(compare(back, '>', ZERO), back, ZERO));
    sheet.add(set(x, sum(from.x, product(dx, gone))), set(y, sum(from.y, product(dy, gone))));
  });
  return { x, y };
}
