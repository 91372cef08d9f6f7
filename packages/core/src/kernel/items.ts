import type * as P from '../plan/plan.ts';
import type { Column, F64, I32, Local, Numbers } from './kernel.ts';
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
  store,
  times,
  whole,
  words,
} from './kernel.ts';
import { capacityOf, slotsInUse } from './lives.ts';
import { placeOf } from './lists.ts';
import { told } from './outside.ts';
import type { TurnValues } from './turn-values.ts';

/** Lists that agents keep, in kernel form: a column that says how long each is, and after it, side by side, a column for each item, or two where an item is a place. */

/** The list of an agent: the first of its columns, and how many numbers an item has. */
interface ListOf {
  readonly kind: number;
  readonly column: number;
  readonly stride: number;
  readonly slot: I32;
}

/** Where a number of a list lies, which begins with its length. */
interface Place {
  readonly column: Numbers;
  readonly at: I32;
}

function placeIn(values: TurnValues, { kind, column, slot }: ListOf, index: I32): Place {
  const isFirst = index.is === 'i32' && index.value === 0;
  return {
    column: values.reads.of({ is: 'items', kind, column }),
    at: isFirst ? slot : plus(slot, times(index, capacityOf(values, kind))),
  };
}

function held({ column, at }: Place): F64 {
  return load(column, at);
}

function partOf(values: TurnValues, list: ListOf, item: I32, part: number): Place {
  return placeIn(values, list, plus(times(item, whole(list.stride)), whole(1 + part)));
}

export function listLength(values: TurnValues, e: Extract<P.Expr, { op: 'list length' }>): F64 {
  return held(placeIn(values, { ...e, stride: 1, slot: values.slot(e.agent.local) }, whole(0)));
}

export function listItem(values: TurnValues, e: Extract<P.Expr, { op: 'list item' }>): F64 {
  const list = { ...e, slot: values.slot(e.agent.local) };
  const item = values.sheet.keptWhole({ is: 'truncated', value: values.value(e.index) });
  return held(partOf(values, list, item, e.part));
}

/** Goes through the items of a list in a local: the agents that are there, or the places of numbers. @param kind whose numbers they are, or -1 */
export function eachItem(
  values: TurnValues,
  over: Extract<P.Query['over'], { is: 'list' }>,
  kind: number,
  local: Local<'i32'>,
  each: () => void,
): void {
  const { sheet } = values;
  const slot = values.slot(over.agent.local);
  const list = { kind: over.owner, column: over.column, stride: 1, slot };
  const index = sheet.i32();
  const to = sheet.keptWhole({ is: 'truncated', value: held(placeIn(values, list, whole(0))) });
  const { list: body } = sheet.apart(() => {
    if (!over.ofAgents) {
      sheet.add(put(local, index));
      return each();
    }
    const item = held(partOf(values, list, index, 0));
    sheet.add(put(local, slotOfNumber(values, kind, { is: 'truncated', value: item })));
    sheet.when(compareWhole(local, '>=', whole(0)), each);
  });
  sheet.add({ is: 'loop', index, from: whole(0), to, body });
}

/** The slot of the agent that has a number, or -1, as `slotOf` of engine/population.ts finds it. */
export function slotOfNumber(values: TurnValues, kind: number, agent: I32): Local<'i32'> {
  const { sheet, reads } = values;
  const numbers = reads.wholesOf({ is: 'number', kind }) as Column<'i32'>;
  const [asked, used, found] = [sheet.keptWhole(agent), sheet.keptWhole(slotsInUse(values, kind)), sheet.i32()];
  const direct = sheet.keptWhole(minus(asked, whole(1)));
  sheet.add(put(found, whole(-1)));
  const isWithin = both(compareWhole(direct, '>=', whole(0)), compareWhole(direct, '<', used));
  sheet.when(
    both(isWithin, compareWhole(loadWhole(numbers, direct), '==', asked)),
    () => sheet.add(put(found, direct)),
    () => sheet.add(put(found, placeOf(sheet, numbers, whole(0), used, asked))),
  );
  const alive = loadWhole(reads.wholesOf({ is: 'alive', kind }), found);
  const isGone = compareWhole(words('mask', alive, whole(1)), '==', whole(0));
  sheet.when(both(compareWhole(found, '>=', whole(0)), isGone), () => sheet.add(put(found, whole(-1))));
  return found;
}

/** Puts a value, or a place, at the end of a list: the oldest makes room for it, and an agent is in it once. */
export function addToList(values: TurnValues, s: Extract<P.Statement, { op: 'add to list' }>): void {
  const { sheet, sight } = values;
  const { kind, column, size } = s;
  const stride = s.values.length;
  const slot = values.slot(s.agent.local);
  const list: ListOf = { kind, column, stride, slot };
  const parts = s.values.map((value) => sheet.kept(values.value(value)));
  if (!s.ofAgents && stride === 1) values.checked(parts[0]!, s.site);
  if (sight.atOnce && !s.agent.own) {
    const what = [kind, column, size, stride, s.ofAgents ? 1 : 0].map(number);
    const [a, b] = [parts[0]!, parts[1] ?? number(0)];
    return sheet.add(told('addToListLater', ...what, { is: 'of i32', value: slot }, a, b));
  }
  const length = sheet.i32();
  const first = placeIn(values, list, whole(0));
  /** Leaves out one item: those after it move up. */
  const close = (at: I32): void => {
    const [item, end] = [sheet.i32(), sheet.keptWhole(minus(length, whole(1)))];
    const { list: body } = sheet.apart(() =>
      s.values.forEach((_, part) => {
        const to = partOf(values, list, item, part);
        sheet.add(store(to.column, to.at, held(partOf(values, list, plus(item, whole(1)), part))));
      }),
    );
    sheet.add({ is: 'loop', index: item, from: at, to: end, body }, put(length, end));
  };
  sheet.add(put(length, { is: 'truncated', value: held(first) }));
  if (s.ofAgents) {
    const [round, item, all] = [sheet.i32(), sheet.i32(), sheet.i32()];
    sheet.add(put(all, length));
    const { list: body } = sheet.apart(() => {
      sheet.add(put(item, minus(minus(all, whole(1)), round)));
      sheet.when(compare(held(partOf(values, list, item, 0)), '==', parts[0]!), () => close(item));
    });
    sheet.add({ is: 'loop', index: round, from: whole(0), to: all, body });
  }
  sheet.when(compareWhole(length, '==', whole(size)), () => close(whole(0)));
  parts.forEach((value, part) => {
    const to = partOf(values, list, length, part);
    sheet.add(store(to.column, to.at, value));
  });
  sheet.add(store(first.column, first.at, { is: 'of i32', value: plus(length, whole(1)) }));
}
