import type { Column, F64, I32, Local, Numbers, Statement, Test } from './kernel.ts';
import {
  both,
  compare,
  compareWhole,
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

/** In rising order as arrays of numbers are sorted: -0 comes before 0, and what is no number last. */
export function sortNumbers(sheet: Sheet, column: Numbers, many: Local<'i32'>): void {
  const [held, other] = [sheet.f64(), sheet.f64()];
  sortBySinking<F64>(sheet, many, {
    at: (place) => load(column, place),
    store: (place, value) => store(column, place, value),
    held,
    hold: (value) => set(held, value),
    isBefore: (one, than) => {
      sheet.add(set(other, one));
      const areZeros = both(compare(other, '==', number(0)), compare(than, '==', number(0)));
      const isMinus = compare(quotient(number(1), other), '<', quotient(number(1), than));
      const isNumber = both(compare(other, '==', other), compare(than, '!=', than));
      const others: Test = { is: 'or else', left: both(areZeros, isMinus), right: isNumber };
      return { is: 'or else', left: compare(other, '<', than), right: others };
    },
  });
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
