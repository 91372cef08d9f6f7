import type { Column, F64, I32, Local, Numbers, Statement, Test } from './kernel.ts';
import {
  both,
  compare,
  compareWhole,
  ENDLESS,
  load,
  loadWhole,
  minus,
  number,
  plus,
  put,
  quotient,
  set,
  store,
  storeWhole,
  whole,
  words,
} from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** Lists in kernel form. */

const GAPS = [797161, 265720, 88573, 29524, 9841, 3280, 1093, 364, 121, 40, 13, 4, 1] as const;

/** What is sorted: how a place of it is read and written, what is held meanwhile, and which of two comes first. */
interface Sorted<T extends I32 | F64> {
  readonly at: (place: I32) => T;
  readonly store: (place: I32, value: T) => Statement;
  readonly held: T;
  readonly hold: (value: T) => Statement;
  readonly isBefore: (one: T, other: T) => Test;
}

export function sortList(sheet: Sheet, column: Column<'i32' | 'u8'>, many: Local<'i32'>): void {
  const held = sheet.i32();
  sortBySinking<I32>(sheet, many, {
    at: (place) => loadWhole(column, place),
    store: (place, value) => storeWhole(column, place, value),
    held,
    hold: (value) => put(held, value),
    isBefore: (one, other) => compareWhole(one, '<', other),
  });
}

/** Whether a number comes before another as arrays of numbers are sorted: -0 comes before 0, and what is no number last. */
function comesBefore(one: Local<'f64'>, than: Local<'f64'>): Test {
  const areZeros = both(compare(one, '==', number(0)), compare(than, '==', number(0)));
  const isMinus = compare(quotient(number(1), one), '<', quotient(number(1), than));
  const isNumber = both(compare(one, '==', one), compare(than, '!=', than));
  const others: Test = { is: 'or else', left: both(areZeros, isMinus), right: isNumber };
  return { is: 'or else', left: compare(one, '<', than), right: others };
}

function sortNumbers(sheet: Sheet, column: Numbers, many: Local<'i32'>): void {
  const [held, other] = [sheet.f64(), sheet.f64()];
  sortBySinking<F64>(sheet, many, {
    at: (place) => load(column, place),
    store: (place, value) => store(column, place, value),
    held,
    hold: (value) => set(held, value),
    isBefore: (one) => {
      sheet.add(set(other, one));
      return comesBefore(other, held);
    },
  });
}

/** So many times what is looked at shrinks to a part; then all is sorted. */
const MOST_SHRINKINGS = 64;

/**
 * Brings the number that stands at a place of their order there, none that comes after it before it, and none that comes before it behind
 * it (C. A. R. Hoare, Algorithm 65: Find, 1961).
 */
export function bringToPlace(sheet: Sheet, column: Numbers, many: Local<'i32'>, place: I32): void {
  const [low, high, i, j] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
  const [round, step, part] = [sheet.i32(), sheet.i32(), sheet.i32()];
  const [pivot, held] = [sheet.f64(), sheet.f64()];
  const endless = (index: Local<'i32'>, name: string, body: () => void): void =>
    sheet.add({
      is: 'block',
      name,
      body: [{ is: 'loop', index, from: whole(0), to: ENDLESS, body: sheet.apart(body).list }],
    });
  const leave = (block: string) => (): void => sheet.add({ is: 'leave', block });
  /** Goes on from a place as long as what stands there is on its side of the pivot. */
  const pass = (at: Local<'i32'>, by: 1 | -1): void => {
    const name = `pass${at.name}`;
    endless(step, name, () => {
      sheet.add(set(held, load(column, at)));
      const isOnItsSide = by > 0 ? comesBefore(held, pivot) : comesBefore(pivot, held);
      sheet.when({ is: 'not', test: isOnItsSide }, leave(name));
      sheet.add(put(at, plus(at, whole(by))));
    });
  };
  const exchange = (): void =>
    sheet.add(
      set(held, load(column, i)),
      store(column, i, load(column, j)),
      store(column, j, held),
      put(i, plus(i, whole(1))),
      put(j, minus(j, whole(1))),
    );
  const name = `shrink${low.name}`;
  const { list } = sheet.apart(() => {
    sheet.when(compareWhole(low, '>=', high), leave(name));
    sheet.add(set(pivot, load(column, place)), put(i, low), put(j, high));
    endless(part, `part${low.name}`, () => {
      pass(i, 1);
      pass(j, -1);
      sheet.when(compareWhole(i, '<=', j), exchange);
      sheet.when(compareWhole(i, '>', j), leave(`part${low.name}`));
    });
    sheet.when(compareWhole(j, '<', place), () => sheet.add(put(low, i)));
    sheet.when(compareWhole(place, '<', i), () => sheet.add(put(high, j)));
  });
  sheet.add(put(low, whole(0)), put(high, minus(many, whole(1))), {
    is: 'block',
    name,
    body: [{ is: 'loop', index: round, from: whole(0), to: whole(MOST_SHRINKINGS), body: list }],
  });
  sheet.when(compareWhole(low, '<', high), () => sortNumbers(sheet, column, many));
}

/** The first in order of the numbers from a place on, of which there is one at least. */
export function firstFrom(sheet: Sheet, column: Numbers, many: Local<'i32'>, from: I32): Local<'f64'> {
  const [first, other, at] = [sheet.f64(), sheet.f64(), sheet.i32()];
  const { list } = sheet.apart(() => {
    sheet.add(set(other, load(column, at)));
    sheet.when(comesBefore(other, first), () => sheet.add(set(first, other)));
  });
  sheet.add(set(first, load(column, from)), { is: 'loop', index: at, from, to: many, body: list });
  return first;
}

/** With gaps that shrink to a third, so that long lists are sorted in little time as well (D. Shell, 1959; gaps of D. Knuth). */
function sortBySinking<T extends I32 | F64>(sheet: Sheet, many: Local<'i32'>, of: Sorted<T>): void {
  const [round, gap, i, step, j] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
  const name = `sink${step.name}`;
  const before = minus(j, gap);
  const leave: Statement = { is: 'leave', block: name };
  const sink = sheet.apart(() => {
    sheet.when(
      compareWhole(before, '<', whole(0)),
      () => sheet.add(leave),
      () => sheet.when(of.isBefore(of.at(before), of.held), () => sheet.add(leave)),
    );
    sheet.add(of.store(j, of.at(before)), put(j, before));
  }).list;
  const { list } = sheet.apart(() => {
    sheet.add(put(gap, whole(1)));
    GAPS.forEach((wide, at) =>
      sheet.when(compareWhole(round, '==', whole(at)), () => sheet.add(put(gap, whole(wide)))),
    );
    sheet.add({
      is: 'loop',
      index: i,
      from: gap,
      to: many,
      body: [
        of.hold(of.at(i)),
        put(j, i),
        { is: 'block', name, body: [{ is: 'loop', index: step, from: whole(0), to: many, body: sink }] },
        of.store(j, of.held),
      ],
    });
  });
  sheet.when(compareWhole(many, '>', whole(1)), () => {
    const first = sheet.i32();
    sheet.add(put(first, whole(GAPS.length - 1)));
    for (let at = GAPS.length - 2; at >= 0; at--)
      sheet.when(compareWhole(many, '>', whole(GAPS[at]! * 2)), () => sheet.add(put(first, whole(at))));
    sheet.add({ is: 'loop', index: round, from: first, to: whole(GAPS.length), body: list });
  });
}

/** No column has more places than these halvings tell apart. */
const HALVINGS = 32;

/** The place of a whole number in a column that rises from one place up to below another, found by halving; -1 where it is not there. */
export function placeOf(sheet: Sheet, column: Column<'i32' | 'u8'>, from: I32, to: I32, value: I32): Local<'i32'> {
  const [found, round] = [sheet.i32(), sheet.i32()];
  const [low, high] = [sheet.i32(), sheet.i32()];
  const [middle, there] = [sheet.i32(), sheet.i32()];
  const name = `halve${found.name}`;
  const leave = (): void => sheet.add({ is: 'leave', block: name });
  const { list } = sheet.apart(() => {
    sheet.when(compareWhole(low, '>', high), leave);
    sheet.add(put(middle, words('shr', plus(low, high), whole(1))), put(there, loadWhole(column, middle)));
    sheet.when(
      compareWhole(there, '<', value),
      () => sheet.add(put(low, plus(middle, whole(1)))),
      () => {
        sheet.add(put(high, minus(middle, whole(1))));
        sheet.when(compareWhole(there, '==', value), () => {
          sheet.add(put(found, middle));
          leave();
        });
      },
    );
  });
  sheet.add(put(found, whole(-1)), put(low, from), put(high, minus(to, whole(1))), {
    is: 'block',
    name,
    body: [{ is: 'loop', index: round, from: whole(0), to: whole(HALVINGS), body: list }],
  });
  return found;
}

/** In an order that is drawn (Fisher and Yates, in Durstenfeld's form). @param below draws a whole number from 0 below another */
export function shuffleList(
  sheet: Sheet,
  column: Column<'i32' | 'u8'>,
  many: Local<'i32'>,
  below: (many: I32) => I32,
): void {
  const [round, i, j, held] = [sheet.i32(), sheet.i32(), sheet.i32(), sheet.i32()];
  const { list } = sheet.apart(() => {
    sheet.add(put(i, minus(many, plus(round, whole(1)))));
    sheet.add(put(j, below(plus(i, whole(1)))));
    sheet.add(put(held, loadWhole(column, i)));
    sheet.add({ is: 'store i32', column, at: i, value: loadWhole(column, j) });
    sheet.add({ is: 'store i32', column, at: j, value: held });
  });
  sheet.add({ is: 'loop', index: round, from: whole(0), to: minus(many, whole(1)), body: list });
}
