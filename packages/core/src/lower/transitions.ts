import type { KindSymbol, MachineSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Body, Expr } from '../plan/plan.ts';
import { hearArrival } from './arrivals.ts';
import { binary, local, num } from './code.ts';
import type { Draft } from './draft.ts';
import { enterNamed, leaveState, selfOf } from './machine.ts';
import { emitShares } from './shares.ts';

/** The rule of a machine: the transitions of the state the agent is in, in text order, at most one of them (S21). */
export function machineRule(draft: Draft, kind: KindSymbol, machine: MachineSymbol): Body {
  const { agent } = selfOf(draft);
  const cases = machine.states.map((_, state) =>
    draft.collect(() => lowerTransitions(draft, kind, machine, agent, state)),
  );
  const statements = draft.collect(() => {
    draft.emit({ op: 'switch', value: { op: 'state', kind: kind.index, machine: machine.index, agent }, cases });
  });
  return { statements, locals: draft.localCount };
}

/** Own transitions before those of the groups, inner before outer. */
function transitionsOf(machine: MachineSymbol, state: number): Ast.Transition[] {
  const { part, groups } = machine.states[state]!;
  return [...part.transitions, ...[...groups].reverse().flatMap((group) => group.part.transitions)];
}

function lowerTransitions(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  state: number,
): void {
  const list = transitionsOf(machine, state).filter((transition) => transition.trigger !== 'on');
  const arrived = list.some(({ trigger }) => trigger === 'on arrival')
    ? hearArrival(draft, kind, machine, agent)
    : undefined;
  const rates = list.filter((transition) => transition.trigger === 'rate');
  const steps = list.filter((transition) => transition.trigger !== 'rate' || transition === rates[0]);
  const build = (i: number): void => {
    const transition = steps[i];
    if (!transition) return;
    const next = (): void => build(i + 1);
    if (transition.trigger === 'rate') rateTransitions(draft, kind, machine, agent, state, rates, next);
    else singleTransition(draft, kind, machine, agent, state, transition, next, arrived);
  };
  build(0);
}

/** What a message does to a machine: the first transition on it that fires. */
export function messageTransitions(draft: Draft, kind: KindSymbol, machine: MachineSymbol, message: object): void {
  const { agent } = selfOf(draft);
  const { messageOf, locals } = draft.shared.model;
  const cases = machine.states.map((_, state) =>
    draft.collect(() => {
      const list = transitionsOf(machine, state).filter(
        (transition) => transition.trigger === 'on' && messageOf.get(transition) === message,
      );
      const build = (i: number): void => {
        const transition = list[i];
        if (!transition) return;
        const heard = locals.get(transition);
        if (heard) draft.slots.set(heard, 0);
        singleTransition(draft, kind, machine, agent, state, transition, () => build(i + 1));
      };
      build(0);
    }),
  );
  if (cases.some((statements) => statements.length > 0))
    draft.emit({ op: 'switch', value: { op: 'state', kind: kind.index, machine: machine.index, agent }, cases });
}

function singleTransition(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  state: number,
  transition: Ast.Transition,
  next: () => void,
  arrived?: Expr,
): void {
  const due: Expr = { op: 'due', kind: kind.index, column: draft.shared.dueColumns.get(transition) ?? 0, agent };
  const end: Expr = { op: 'clock', which: 'end of step' };
  const slack = draft.shared.model.clock.stepLength * 1e-9;
  let fires: Expr = num(1);
  if (transition.trigger === 'after') fires = binary('<=', due, binary('+', end, num(slack)));
  if (transition.trigger === 'when') fires = draft.lower(transition.value);
  if (transition.trigger === 'on arrival') fires = arrived!;
  if (transition.when) fires = draft.andThen(fires, () => draft.lower(transition.when!));
  const isCertain = transition.value.is === 'number' && transition.value.value === 1;
  const draws = transition.trigger === 'chance' || (transition.trigger.startsWith('on') && !isCertain);
  if (draws)
    fires = draft.andThen(fires, () => draft.draw('chance', [draft.lower(transition.value)], transition.value.span));
  const base = transition.trigger === 'after' && !transition.when ? draft.hold(due) : end;
  const then = draft.collect(() => fireTransition(draft, kind, machine, agent, state, transition, base));
  const otherwise = draft.collect(next);
  draft.emit({ op: 'if', condition: fires, then, else: otherwise, site: draft.site(transition.span, 'a transition') });
}

/** All rates whose condition holds compete as one draw; the winner is drawn in proportion (S21). */
function rateTransitions(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  state: number,
  rates: readonly Ast.Transition[],
  next: () => void,
): void {
  const end: Expr = { op: 'clock', which: 'end of step' };
  const amounts = rates.map((transition) => {
    const slot = draft.newLocal();
    draft.emit({ op: 'set', local: slot, value: num(0) });
    const set = (): void => draft.emit({ op: 'set', local: slot, value: draft.lower(transition.value) });
    if (transition.when) {
      const condition = draft.lower(transition.when);
      draft.emit({ op: 'if', condition, then: draft.collect(set), else: [] });
    } else set();
    return local(slot);
  });
  const total = draft.hold(amounts.reduce((a, b) => binary('+', a, b)));
  const fired = draft.newLocal();
  draft.emit({ op: 'set', local: fired, value: num(0) });
  const chance: Expr = {
    op: 'call',
    fn: 'chance of rate',
    args: [binary('*', total, num(draft.shared.model.clock.stepLength))],
  };
  const drawing = draft.collect(() => {
    const luck = draft.draw('chance', [chance], rates[0]!.value.span);
    draft.emit({ op: 'set', local: fired, value: luck });
  });
  draft.emit({ op: 'if', condition: binary('>', total, num(0)), then: drawing, else: [] });
  const then = draft.collect(() => {
    if (rates.length === 1) fireTransition(draft, kind, machine, agent, state, rates[0]!, end);
    else competing(draft, kind, machine, agent, state, rates, amounts, total);
  });
  draft.emit({
    op: 'if',
    condition: local(fired),
    then,
    else: draft.collect(next),
    site: draft.site(rates[0]!.span, 'a transition'),
  });
}

function competing(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  state: number,
  rates: readonly Ast.Transition[],
  amounts: readonly Expr[],
  total: Expr,
): void {
  const luck = draft.hold(binary('*', draft.draw('unit', [], rates[0]!.span), total));
  let reached = amounts[0]!;
  const thresholds = amounts.map(
    (amount, i) => (reached = i === 0 ? amount : draft.hold(binary('+', reached, amount))),
  );
  emitShares(draft, luck, thresholds, (i) =>
    fireTransition(draft, kind, machine, agent, state, rates[i]!, { op: 'clock', which: 'end of step' }),
  );
}

/** The target is drawn first, so that `leave` lines of groups that are not left do not run. */
function fireTransition(
  draft: Draft,
  kind: KindSymbol,
  machine: MachineSymbol,
  agent: AgentRef,
  state: number,
  transition: Ast.Transition,
  base: Expr,
): void {
  const { targets } = transition;
  const go = (i: number): void => {
    const key = targets[i]!.state.key;
    leaveState(draft, machine, state, landing(machine, key));
    draft.block(transition.block);
    enterNamed(draft, kind, machine, agent, key, base, true, state);
  };
  if (targets.length === 1 && targets[0]!.share === 'rest') {
    go(0);
    return;
  }
  const luck = draft.draw('unit', [], transition.span);
  emitShares(
    draft,
    luck,
    targets.map((target) => target.share),
    go,
  );
}

/** A state in which a transition to a name ends: of a state with states inside any, as they share its groups. */
function landing(machine: MachineSymbol, key: string): number {
  const state = machine.states.findIndex((s) => s.key === key);
  return state >= 0 ? state : machine.groups.find((g) => g.key === key)!.members[0]!;
}
