import type { KindSymbol, LocalSymbol, MachineSymbol, StateGroup } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Body, Expr } from '../plan/plan.ts';
import { awaitArrival } from './arrivals.ts';
import { binary, local, num } from './code.ts';
import type { Draft } from './draft.ts';
import { isOneOf } from './expression.ts';
import { emitShares } from './shares.ts';

/** A duration of nothing is due within the step after: at least one step later (S5). */
const NO_DURATION_STEPS = 0.5;

/** The state an agent comes from: none at first, one that is known, or one that is known only in the run. */
type Before = number | Expr | undefined;

export function selfOf(draft: Draft): { kind: KindSymbol; agent: AgentRef; symbol: LocalSymbol } {
  const symbol = draft.asker;
  if (!symbol) throw new RangeError('Nobody acts here');
  return { kind: draft.kindOfLocal(symbol), agent: draft.agent(symbol), symbol };
}

export function startMachine(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  base: Expr,
): void {
  enterFirst(draft, kind, machine, agent, machine.part, base, false, undefined);
}

/** Enters the first state of a machine or of a state with states inside: those with a condition in turn, else by shares. */
function enterFirst(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  part: Ast.StatesPart | Ast.StatePart,
  base: Expr,
  runsEnter: boolean,
  before: Before,
): void {
  const enter = (key: string): void => enterNamed(draft, kind, machine, agent, key, base, runsEnter, before);
  const shares = part.start.filter((share) => !share.exact && !share.when);
  const byShares = (): void => {
    if (shares.length === 0) enter(part.states[0]!.name.key);
    else if (shares.length === 1) enter(shares[0]!.state.key);
    else
      emitShares(
        draft,
        draft.draw('unit', [], machine.span),
        shares.map((share) => (typeof share.share === 'string' ? 'rest' : share.share)),
        (i) => enter(shares[i]!.state.key),
      );
  };
  const conditional = part.start.filter((share) => share.when);
  const build = (i: number): void => {
    const share = conditional[i];
    if (!share) return byShares();
    const condition = draft.lower(share.when!);
    draft.emit({
      op: 'if',
      condition,
      then: draft.collect(() => enter(share.state.key)),
      else: draft.collect(() => build(i + 1)),
    });
  };
  build(0);
}

export function enterNamed(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  key: string,
  base: Expr,
  runsEnter: boolean,
  before: Before,
): void {
  const state = machine.states.findIndex((s) => s.key === key);
  if (state >= 0) enterState(draft, kind, machine, agent, state, base, runsEnter, before);
  else
    enterFirst(draft, kind, machine, agent, machine.groups.find((g) => g.key === key)!.part, base, runsEnter, before);
}

export function enterDynamic(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  state: Expr,
  base: Expr,
): void {
  if (state.op === 'number') {
    enterState(draft, kind, machine, agent, state.value, base, false, undefined);
    return;
  }
  const cases = machine.states.map((_, index) =>
    draft.collect(() => enterState(draft, kind, machine, agent, index, base, false, undefined)),
  );
  draft.emit({ op: 'switch', value: state, cases });
}

/** The state that a statement sets, to be entered when the agent is there. */
export function heldState(
  draft: Draft,
  machine: MachineSymbol,
  value: Ast.Expr,
): Expr | ((kind: KindSymbol, agent: AgentRef, base: Expr) => void) {
  const ref = draft.shared.model.refs.get(value);
  if (ref?.is !== 'group') return draft.hold(draft.lower(value));
  return (kind, agent, base) => enterFirst(draft, kind, machine, agent, ref.group.part, base, false, undefined);
}

/** Takes up a state: the state itself, the due times of its durations and of the groups come into, then `enter` lines, outer ones first. */
export function enterState(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  state: number,
  base: Expr,
  runsEnter: boolean,
  before: Before,
): void {
  draft.emit({ op: 'become', kind: kind.index, machine: machine.index, agent, state });
  const { dueColumns, model } = draft.shared;
  if (model.timedMachines.has(machine))
    draft.emit({
      op: 'write due',
      kind: kind.index,
      column: dueColumns.get(machine)!,
      agent,
      value: base,
      site: draft.site(machine.span, 'a time'),
    });
  if (before !== state) awaitArrival(draft, kind, machine, agent);
  const { part, groups } = machine.states[state]!;
  for (const group of groups) ifCrossed(draft, group, before, () => setDues(draft, group.part, kind, agent, base));
  setDues(draft, part, kind, agent, base);
  if (!runsEnter) return;
  for (const group of groups)
    if (group.part.enter.length > 0)
      ifCrossed(draft, group, before, () => group.part.enter.forEach((block) => draft.block(block)));
  for (const block of part.enter) draft.block(block);
}

/** Runs `build` if the state on the other side of a change lies outside the group. */
function ifCrossed(draft: Draft, group: StateGroup, other: Before, build: () => void): void {
  if (typeof other === 'number') {
    if (!group.members.includes(other)) build();
  } else if (other === undefined) build();
  else {
    const then = draft.collect(build);
    if (then.length > 0)
      draft.emit({
        op: 'if',
        condition: { op: 'not', value: isOneOf(other, group.members.map(num)) },
        then,
        else: [],
      });
  }
}

function setDues(draft: Draft, part: Ast.StatePart, kind: KindSymbol, agent: AgentRef, base: Expr): void {
  for (const transition of part.transitions) {
    if (transition.trigger !== 'after') continue;
    const duration = draft.hold(draft.lower(transition.value));
    const atLeast: Expr = {
      op: 'choose',
      condition: binary('>', duration, num(0)),
      then: duration,
      else: num(NO_DURATION_STEPS * draft.shared.model.clock.stepLength),
    };
    const column = draft.shared.dueColumns.get(transition)!;
    draft.emit({
      op: 'write due',
      kind: kind.index,
      column,
      agent,
      value: binary('+', base, atLeast),
      site: draft.site(transition.span, 'a duration'),
    });
  }
}

export function leaveState(draft: Draft, machine: MachineSymbol, state: number, to: Before): void {
  const { part, groups } = machine.states[state]!;
  for (const block of part.leave) draft.block(block);
  for (const group of [...groups].reverse())
    if (group.part.leave.length > 0)
      ifCrossed(draft, group, to, () => group.part.leave.forEach((block) => draft.block(block)));
}

/** A machine set by a statement: nothing happens if it is in that state already (S22). */
export function setMachine(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  owner: LocalSymbol,
  value: Ast.Expr,
): void {
  const agent = draft.agent(owner);
  const ref = draft.shared.model.refs.get(value);
  const wanted = ref?.is === 'group' ? firstOfGroup(draft, machine, ref.group, agent) : draft.hold(draft.lower(value));
  if (draft.standing.atOnce && !agent.fresh && draft.standing.changed?.has(machine)) {
    draft.emit({ op: 'change', kind: kind.index, machine: machine.index, agent, state: wanted });
    return;
  }
  changeState(draft, kind, machine, agent, wanted);
}

/** A state with states inside is set: its first one, or the one the agent is in if it lies inside. */
function firstOfGroup(draft: Draft, machine: MachineSymbol, group: StateGroup, agent: AgentRef): Expr {
  const slot = draft.newLocal();
  const find = (part: Ast.StatePart): void => {
    const shares = part.start.filter((share) => !share.exact && !share.when);
    const take = (key: string): void => {
      const state = machine.states.findIndex((s) => s.key === key);
      if (state >= 0) draft.emit({ op: 'set', local: slot, value: num(state) });
      else find(machine.groups.find((g) => g.key === key)!.part);
    };
    if (shares.length < 2) take((shares[0]?.state ?? part.states[0]!.name).key);
    else
      emitShares(
        draft,
        draft.draw('unit', [], machine.span),
        shares.map((share) => (typeof share.share === 'string' ? 'rest' : share.share)),
        (i) => take(shares[i]!.state.key),
      );
  };
  const kind = draft.shared.model.kinds.find((k) => k.machines.includes(machine))!;
  const now = draft.hold({ op: 'state', kind: kind.index, machine: machine.index, agent });
  draft.emit({ op: 'set', local: slot, value: now });
  const outside: Expr = { op: 'not', value: isOneOf(now, group.members.map(num)) };
  draft.emit({ op: 'if', condition: outside, then: draft.collect(() => find(group.part)), else: [] });
  return local(slot);
}

function changeState(draft: Draft, kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, wanted: Expr): void {
  const now = draft.hold({ op: 'state', kind: kind.index, machine: machine.index, agent });
  const change = draft.collect(() => {
    draft.asSelf(kind.self, agent.local, () => {
      const leaves = [...machine.states, ...machine.groups].some((state) => state.part.leave.length > 0);
      if (leaves)
        draft.emit({
          op: 'switch',
          value: now,
          cases: machine.states.map((_, i) => draft.collect(() => leaveState(draft, machine, i, wanted))),
        });
      const base: Expr = { op: 'clock', which: 'end of step' };
      if (wanted.op === 'number') enterState(draft, kind, machine, agent, wanted.value, base, true, now);
      else
        draft.emit({
          op: 'switch',
          value: wanted,
          cases: machine.states.map((_, i) =>
            draft.collect(() => enterState(draft, kind, machine, agent, i, base, true, now)),
          ),
        });
    });
  });
  draft.emit({ op: 'if', condition: binary('is not', wanted, now), then: change, else: [] });
}

/** The change of a machine that others have set all at once: the agent in local 0, its new state in local 1. */
export function changeBody(draft: Draft, kind: KindSymbol, machine: MachineSymbol): Body {
  const { agent } = selfOf(draft);
  const statements = draft.collect(() => changeState(draft, kind, machine, agent, local(1)));
  return { statements, locals: draft.localCount };
}
