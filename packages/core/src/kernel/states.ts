import { columnKey } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { statesAsked } from '../plan/states-asked.ts';
import { spaceOfKind } from '../plan/plan.ts';
import type { I32, Test } from './kernel.ts';
import { compareWhole, load, loadWhole, number, plus, put, set, store, sum, whole } from './kernel.ts';
import type { TurnValues } from './turn-values.ts';

/** How agents come into other states, in kernel form. */

type Become = Extract<P.Statement, { op: 'become' }>;

/** Brings an agent into a state, counts that, and keeps up who is in which state where. */
export function writeBecome(values: TurnValues, s: Become): void {
  const { sheet, reads } = values;
  const { firstCounter, groups } = values.sight.plan.kinds[s.kind]!.machines[s.machine]!;
  const states = reads.wholesOf({ is: 'state', kind: s.kind, column: s.machine });
  const slot = values.slot(s.agent.local);
  const count = (is: 'entered' | 'left' | 'in state', counter: I32, by = 1): void => {
    const column = reads.of({ is });
    sheet.add(store(column, counter, sum(load(column, counter), number(by))));
  };
  const isSteady = values.steady.has(s.kind);
  const born = (): void => {
    count('entered', whole(firstCounter + s.state));
    for (const { members, counter } of groups) if (members.includes(s.state)) count('entered', whole(counter));
  };
  const counts = (): void => {
    const was = sheet.keptWhole(loadWhole(states, slot));
    const old = sheet.keptWhole(plus(was, whole(firstCounter)));
    count('left', old);
    count('entered', whole(firstCounter + s.state));
    if (isSteady) {
      count('in state', old, -1);
      count('in state', whole(firstCounter + s.state));
    }
    for (const { members, counter } of groups) {
      const wasIn = isOneOf(was, members);
      if (members.includes(s.state)) sheet.when({ is: 'not', test: wasIn }, () => count('entered', whole(counter)));
      else sheet.when(wasIn, () => count('left', whole(counter)));
    }
  };
  const changes = (): void => {
    counts();
    changeOnCells(values, s, slot);
  };
  if (s.agent.fresh) {
    born();
    changeOnCells(values, s, slot);
  } else if (isSteady) changes();
  else sheet.when(values.isThere(s.kind, s.agent.local), changes);
  sheet.add({ is: 'store i32', column: states, at: slot, value: whole(s.state) });
}

/** How many of all of a kind are in some states, which is kept up, so that nobody has to be looked at. @returns whether that is all that is asked */
export function countInStates(
  values: TurnValues,
  { query, local }: Extract<P.Statement, { op: 'count' | 'any' }>,
): boolean {
  const { sheet, reads, sight } = values;
  const { kind, over, reach, except, present, candidate, where } = query;
  if (over.is !== 'agents' || reach.is !== 'all' || !values.steady.has(kind)) return false;
  if (present && sight.plan.kinds[kind]!.mayBeNowhere) return false;
  const asked = statesAsked(sight.plan, query);
  if (!asked) return false;
  const { firstCounter } = sight.plan.kinds[kind]!.machines[asked.machine]!;
  const counters = asked.states.map((state) => firstCounter + state);
  const changes = !sight.atOnce && sight.effects.writtenStates.has(columnKey(kind, asked.machine));
  const counted = values.held(local);
  sheet.add(
    set(
      counted,
      changes
        ? counters.map((at) => load(reads.of({ is: 'in state' }), whole(at))).reduce((a, b) => sum(a, b), number(0))
        : reads.number({ op: 'in states', counters }),
    ),
  );
  if (except === undefined) return true;
  sheet.add(put(values.slot(candidate), values.slot(except)));
  sheet.when(values.test(where!.value), () => sheet.add(set(counted, sum(counted, number(-1)))));
  return true;
}

/** Whether a state is one of some. */
export function isOneOf(state: I32, members: readonly number[]): Test {
  return members
    .map((member): Test => compareWhole(state, '==', whole(member)))
    .reduce((left, right): Test => ({ is: 'or', left, right }));
}

/** Keeps up who stands where in which state. */
function changeOnCells(values: TurnValues, { kind, machine, state }: Become, slot: I32): void {
  const { reads, sight } = values;
  if (!spaceOfKind(sight.plan, kind) || sight.plan.kinds[kind]!.mayBeNowhere) return;
  const cells = values.trackedCells(kind);
  cells?.changed(kind, machine, state, () =>
    cells.placeOf(load(reads.of({ is: 'x', kind }), slot), load(reads.of({ is: 'y', kind }), slot)),
  );
}
