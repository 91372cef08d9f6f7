import { tieColumnId } from '../plan/settling.ts';
import type * as P from '../plan/plan.ts';
import { applied } from './functions.ts';
import type { Column, F64, I32, Local, Test } from './kernel.ts';
import {
  called,
  compare,
  compareWhole,
  load,
  loadWhole,
  number,
  plus,
  put,
  selectWhole,
  set,
  store,
  whole,
} from './kernel.ts';
import { placeOf } from './lists.ts';
import { say, told } from './outside.ts';
import type { TurnValues } from './turn-values.ts';

/** Ties in kernel form: those of an agent, what they hold, and how they are made and cut, as engine/spaces/network.ts does it. */

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

/** The ties of one side of a network. */
interface Side {
  readonly network: number;
  readonly side: number;
}

function row(
  { reads }: TurnValues,
  is: 'tied start' | 'tied many' | 'tied other' | 'tied tie',
  { network, side }: Side,
): Column<'i32' | 'u8'> {
  return reads.wholesOf({ is, network, side });
}

/** How long the row of an agent is; that of nobody is empty. */
export function rowLength(values: TurnValues, of: Side, agent: I32): Local<'i32'> {
  const { sheet } = values;
  const many = sheet.i32();
  sheet.add(put(many, whole(0)));
  sheet.when(compareWhole(agent, '>=', whole(0)), () =>
    sheet.add(put(many, loadWhole(row(values, 'tied many', of), agent))),
  );
  return many;
}

/** Who stands at a place of the row of an agent. */
export function tiedAt(values: TurnValues, of: Side, agent: I32, at: I32): I32 {
  return loadWhole(row(values, 'tied other', of), plus(loadWhole(row(values, 'tied start', of), agent), at));
}

/** Where the row of an agent begins and ends; that of nobody is empty. */
function rowOf(values: TurnValues, of: Side, agent: I32): Readonly<Record<'begins' | 'ends', Local<'i32'>>> {
  const { sheet } = values;
  const [begins, ends] = [sheet.i32(), sheet.i32()];
  sheet.add(put(begins, whole(0)), put(ends, whole(0)));
  sheet.when(compareWhole(agent, '>=', whole(0)), () => {
    sheet.add(put(begins, loadWhole(row(values, 'tied start', of), agent)));
    sheet.add(put(ends, plus(begins, loadWhole(row(values, 'tied many', of), agent))));
  });
  return { begins, ends };
}

/** Goes through the row of an agent, in the order of slots: who stands there, or by which tie, in a local. */
export function eachTied(
  values: TurnValues,
  of: Side,
  what: 'tied other' | 'tied tie',
  agent: I32,
  local: Local<'i32'>,
  each: () => void,
): void {
  const { sheet } = values;
  const { begins, ends } = rowOf(values, of, agent);
  const j = sheet.i32();
  const { list } = sheet.apart(() => {
    sheet.add(put(local, loadWhole(row(values, what, of), j)));
    each();
  });
  sheet.add({ is: 'loop', index: j, from: begins, to: ends, body: list });
}

/** The place at which one stands in the row of another; -1 where it does not. */
function placeInRow(values: TurnValues, of: Side, agent: I32, other: I32): Local<'i32'> {
  const { sheet } = values;
  const { begins, ends } = rowOf(values, of, agent);
  return placeOf(sheet, row(values, 'tied other', of), begins, ends, other);
}

export function areTied(values: TurnValues, e: Extract<P.Expr, { op: 'tied' }>): Test {
  return compareWhole(placeInRow(values, e, values.slot(e.a.local), values.slot(e.b.local)), '>=', whole(0));
}

/** Puts the tie between two agents into a local, or -1. */
export function writeFindTie(values: TurnValues, s: Of<'find tie'>): void {
  const { sheet } = values;
  const of = { network: s.network, side: 0 };
  const [a, b] = inOrder(s).map(({ local }) => values.slot(local));
  const place = placeInRow(values, of, a!, b!);
  const local = values.slot(s.local);
  sheet.add(put(local, whole(-1)));
  sheet.when(compareWhole(place, '>=', whole(0)), () =>
    sheet.add(put(local, loadWhole(row(values, 'tied tie', of), place))),
  );
}

/** Two agents, the one of the kind that ties first. */
function inOrder({ a, b, flip }: { readonly a: P.AgentRef; readonly b: P.AgentRef; readonly flip: boolean }) {
  return flip ? [b, a] : [a, b];
}

export function writeOtherEnd(values: TurnValues, { local, network, tie, from }: Of<'other end'>): void {
  const [a, b] = (['tie a', 'tie b'] as const).map((is) =>
    loadWhole(values.reads.wholesOf({ is, network }), values.slot(tie)),
  ) as [I32, I32];
  const second = values.sheet.keptWhole(b);
  const other = from ? selectWhole(compareWhole(second, '==', values.slot(from.local)), a, second) : second;
  values.sheet.add(put(values.slot(local), other));
}

/** Whether a tie that was found is not cut yet. */
export function isTieThere(values: TurnValues, network: number, tie: number): Test {
  const there = values.reads.wholesOf({ is: 'tie there', network });
  return compareWhole(loadWhole(there, values.slot(tie)), '!=', whole(0));
}

export function tieValue(
  values: TurnValues,
  { network, column, tie }: Pick<Extract<P.Expr, { op: 'tie value' }>, 'network' | 'column' | 'tie'>,
): F64 {
  return load(values.reads.of({ is: 'tie value', network, column }), values.slot(tie));
}

/** @param note keeps a write until the rule is over, where all act at once */
export function writeTieValue(
  values: TurnValues,
  s: Of<'write tie'>,
  note: (column: number, target: I32, value: F64) => void,
): void {
  const { sheet, reads, sight } = values;
  const value = values.checked(values.value(s.value), s.site);
  const tie = values.slot(s.tie);
  if (sight.atOnce) return note(tieColumnId(s.network, s.column), tie, value);
  const made = values.checked(applied(tieValue(values, s), s.how, value), s.site);
  sheet.add(store(reads.of({ is: 'tie value', network: s.network, column: s.column }), tie, made));
}

/** Ties two agents; where there is no room for it, that is made while the kernel waits. */
export function writeTie(values: TurnValues, s: Of<'tie'>): void {
  const { sheet, reads, sight } = values;
  const all = s.values.map((value) => values.checked(values.value(value), s.site));
  const given = [
    number(s.network),
    ...inOrder(s).map(({ local }): F64 => ({ is: 'of i32', value: values.slot(local) })),
  ];
  say(values, all);
  if (sight.atOnce) return sheet.add(told('tieLater', ...given));
  const lacksRoom = sheet.f64();
  const tie = set(lacksRoom, called('tie', ...given));
  sheet.add(tie);
  sheet.when(compare(lacksRoom, '!=', number(0)), () =>
    sheet.add({ is: 'tell', fn: 'moreTies', given, anew: reads.wholesOf({ is: 'addresses' }) as Column<'i32'> }, tie),
  );
}

/** Cuts the tie of two agents, or all of one. */
export function writeUntie(values: TurnValues, { network, a, b, flip }: Of<'untie'>): void {
  const slotOf = ({ local }: P.AgentRef): F64 => ({ is: 'of i32', value: values.slot(local) });
  const later = values.sight.atOnce ? 'Later' : '';
  values.sheet.add(
    b
      ? told(`cut${later}`, number(network), ...inOrder({ a, b, flip }).map(slotOf))
      : told(`isolate${later}`, number(network), number(flip ? 1 : 0), slotOf(a)),
  );
}
