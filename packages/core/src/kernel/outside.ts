import type * as P from '../plan/plan.ts';
import type { F64, Statement } from './kernel.ts';
import { called, compare, compareWhole, loadWhole, number, whole } from './kernel.ts';
import { TALLIED } from './turn-ends.ts';
import type { TurnValues } from './turn-values.ts';

/** What turns read and write that does not lie in the memory of a run, by calls: it is asked for now and then, at most a few times a turn. `javascript/outside.ts` does it. */

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

export function told(fn: string, ...given: readonly F64[]): Statement {
  return { is: 'tell', fn, given };
}

/** What has been added to a tally so far, as one number. */
export function tallyValue(values: TurnValues, { tally, fn, level }: Extract<P.Expr, { op: 'tally' }>): F64 {
  return called('tally', number(tally), number(TALLIED.indexOf(fn)), level ? values.value(level) : number(NaN));
}

/** What a table of the text has in a row. */
export function tableValue(values: TurnValues, e: Extract<P.Expr, { op: 'table' }>): F64 {
  return called('tableValue', number(e.table), number(e.column), values.value(e.row));
}

export function writeParameter(values: TurnValues, s: Of<'write parameter'>): void {
  values.sheet.add(told('setParameter', number(s.index), values.checked(values.value(s.value), s.site)));
}

export function addToTally(values: TurnValues, s: Of<'add to tally'>): void {
  const value = values.checked(values.value(s.value), s.site);
  values.sheet.add(told('addToTally', number(s.tally), value, number(values.sight.atOnce ? 1 : 0)));
}

/** Says numbers one by one, for what is told next. */
export function say(values: TurnValues, all: readonly F64[]): void {
  values.sheet.add(...all.map((value) => told('say', value)));
}

export function writeLog(values: TurnValues, s: Of<'log'>): void {
  say(
    values,
    s.values.map(({ value }) => values.value(value)),
  );
  values.sheet.add(told('logged', number(s.site), number(values.actorKind), { is: 'of i32', value: values.slot(0) }));
}

export function writeRecord(values: TurnValues, s: Of<'record'>): void {
  values.sheet.when(compare(called('isRecording'), '!=', number(0)), () => {
    say(
      values,
      s.values.map((value) => values.value(value)),
    );
    values.sheet.add(told('recorded', number(s.record)));
  });
}

/** Sends a message to somebody who is not gone. */
export function writeSend(values: TurnValues, s: Of<'send'>): void {
  const { sheet, reads } = values;
  const all = s.values.map((value) => values.checked(values.value(value), s.site));
  const delay = s.delay ? values.checked(values.value(s.delay), s.site) : number(NaN);
  const numberOf = (kind: number, local: number): F64 => ({
    is: 'of i32',
    value: loadWhole(reads.wholesOf({ is: 'number', kind }), values.slot(local)),
  });
  const alive = loadWhole(reads.wholesOf({ is: 'alive', kind: s.kind }), values.slot(s.agent.local));
  sheet.when(compareWhole(alive, '!=', whole(0)), () => {
    say(values, all);
    const sender = s.sender
      ? [number(s.sender.kind), numberOf(s.sender.kind, s.sender.agent.local)]
      : [number(-1), number(0)];
    sheet.add(told('sent', number(s.message), number(s.kind), numberOf(s.kind, s.agent.local), ...sender, delay));
  });
}
