import type { KindSymbol, LocalSymbol, MachineSymbol, StateGroup } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import { binary, local, num } from './body-lowerer.ts';
import { ExpressionLowerer } from './expression.ts';
import type { AgentRef, Body, Expr } from '../plan/plan.ts';

/** A duration of nothing is due within the step after: at least one step later (S5). */
const NO_DURATION_STEPS = 0.5;

/** The state an agent comes from: none at first, one that is known, or one that is known only in the run. */
type Before = number | Expr | undefined;

/** Lowers state machines: how they start, what moves them on, and what happens on the way. */
export abstract class MachineLowerer extends ExpressionLowerer {
  abstract block(block: Ast.Block): void;

  protected get self(): { kind: KindSymbol; agent: AgentRef; symbol: LocalSymbol } {
    const symbol = this.acting ?? this.standing.actor;
    if (!symbol) throw new RangeError('Nobody acts here');
    return { kind: this.kindOfLocal(symbol), agent: this.agent(symbol), symbol };
  }

  protected startMachine(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, base: Expr): void {
    this.enterFirst(kind, machine, agent, machine.part, base, false, undefined);
  }

  /** Enters the first state of a machine or of a state with states inside: those with a condition in turn, else by shares. */
  private enterFirst(
    kind: KindSymbol,
    machine: MachineSymbol,
    agent: AgentRef,
    part: Ast.StatesPart | Ast.StatePart,
    base: Expr,
    runsEnter: boolean,
    before: Before,
  ): void {
    const enter = (key: string): void => this.enterNamed(kind, machine, agent, key, base, runsEnter, before);
    const shares = part.start.filter((share) => !share.exact && !share.when);
    const byShares = (): void => {
      if (shares.length === 0) enter(part.states[0]!.name.key);
      else if (shares.length === 1) enter(shares[0]!.state.key);
      else
        this.emitShares(
          this.draw('unit', [], machine.span),
          shares.map((share) => (typeof share.share === 'string' ? 'rest' : share.share)),
          (i) => enter(shares[i]!.state.key),
        );
    };
    const conditional = part.start.filter((share) => share.when);
    const build = (i: number): void => {
      const share = conditional[i];
      if (!share) return byShares();
      const condition = this.lower(share.when!);
      this.emit({
        op: 'if',
        condition,
        then: this.collect(() => enter(share.state.key)),
        else: this.collect(() => build(i + 1)),
      });
    };
    build(0);
  }

  private enterNamed(
    kind: KindSymbol,
    machine: MachineSymbol,
    agent: AgentRef,
    key: string,
    base: Expr,
    runsEnter: boolean,
    before: Before,
  ): void {
    const state = machine.states.findIndex((s) => s.key === key);
    if (state >= 0) this.enterState(kind, machine, agent, state, base, runsEnter, before);
    else
      this.enterFirst(kind, machine, agent, machine.groups.find((g) => g.key === key)!.part, base, runsEnter, before);
  }

  protected enterDynamic(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: Expr, base: Expr): void {
    if (state.op === 'number') {
      this.enterState(kind, machine, agent, state.value, base, false, undefined);
      return;
    }
    const cases = machine.states.map((_, index) =>
      this.collect(() => this.enterState(kind, machine, agent, index, base, false, undefined)),
    );
    this.emit({ op: 'switch', value: state, cases });
  }

  /** The state that a statement sets, to be entered when the agent is there. */
  protected heldState(
    machine: MachineSymbol,
    value: Ast.Expr,
  ): Expr | ((kind: KindSymbol, agent: AgentRef, base: Expr) => void) {
    const ref = this.shared.model.refs.get(value);
    if (ref?.is !== 'group') return this.hold(this.lower(value));
    return (kind, agent, base) => this.enterFirst(kind, machine, agent, ref.group.part, base, false, undefined);
  }

  /** Takes up a state: the state itself, the due times of its durations and of the groups come into, then `enter` lines, outer ones first. */
  enterState(
    kind: KindSymbol,
    machine: MachineSymbol,
    agent: AgentRef,
    state: number,
    base: Expr,
    runsEnter: boolean,
    before: Before,
  ): void {
    this.emit({ op: 'become', kind: kind.index, machine: machine.index, agent, state });
    const { dueColumns, model } = this.shared;
    if (model.timedMachines.has(machine))
      this.emit({
        op: 'write due',
        kind: kind.index,
        column: dueColumns.get(machine)!,
        agent,
        value: base,
        site: this.site(machine.span, 'a time'),
      });
    const { part, groups } = machine.states[state]!;
    for (const group of groups) this.ifCrossed(group, before, () => this.dues(group.part, kind, agent, base));
    this.dues(part, kind, agent, base);
    if (!runsEnter) return;
    for (const group of groups)
      if (group.part.enter.length > 0)
        this.ifCrossed(group, before, () => group.part.enter.forEach((block) => this.block(block)));
    for (const block of part.enter) this.block(block);
  }

  /** Runs `build` if the state on the other side of a change lies outside the group. */
  private ifCrossed(group: StateGroup, other: Before, build: () => void): void {
    if (typeof other === 'number') {
      if (!group.members.includes(other)) build();
    } else if (other === undefined) build();
    else {
      const then = this.collect(build);
      if (then.length > 0)
        this.emit({
          op: 'if',
          condition: { op: 'not', value: this.isOneOf(other, group.members.map(num)) },
          then,
          else: [],
        });
    }
  }

  private dues(part: Ast.StatePart, kind: KindSymbol, agent: AgentRef, base: Expr): void {
    for (const transition of part.transitions) {
      if (transition.trigger !== 'after') continue;
      const duration = this.hold(this.lower(transition.value));
      const atLeast: Expr = {
        op: 'choose',
        condition: binary('>', duration, num(0)),
        then: duration,
        else: num(NO_DURATION_STEPS * this.shared.model.clock.stepLength),
      };
      const column = this.shared.dueColumns.get(transition)!;
      this.emit({
        op: 'write due',
        kind: kind.index,
        column,
        agent,
        value: binary('+', base, atLeast),
        site: this.site(transition.span, 'a duration'),
      });
    }
  }

  private leave(machine: MachineSymbol, state: number, to: Before): void {
    const { part, groups } = machine.states[state]!;
    for (const block of part.leave) this.block(block);
    for (const group of [...groups].reverse())
      if (group.part.leave.length > 0)
        this.ifCrossed(group, to, () => group.part.leave.forEach((block) => this.block(block)));
  }

  /** A machine set by a statement: nothing happens if it is in that state already (S22). */
  protected setMachine(kind: KindSymbol, machine: MachineSymbol, owner: LocalSymbol, value: Ast.Expr): void {
    const agent = this.agent(owner);
    const ref = this.shared.model.refs.get(value);
    const wanted = ref?.is === 'group' ? this.firstOfGroup(machine, ref.group, agent) : this.hold(this.lower(value));
    if (this.standing.atOnce && !agent.fresh && this.standing.changed?.has(machine)) {
      this.emit({ op: 'change', kind: kind.index, machine: machine.index, agent, state: wanted });
      return;
    }
    this.change(kind, machine, agent, wanted);
  }

  /** A state with states inside is set: its first one, or the one the agent is in if it lies inside. */
  private firstOfGroup(machine: MachineSymbol, group: StateGroup, agent: AgentRef): Expr {
    const slot = this.newLocal();
    const find = (part: Ast.StatePart): void => {
      const shares = part.start.filter((share) => !share.exact && !share.when);
      const take = (key: string): void => {
        const state = machine.states.findIndex((s) => s.key === key);
        if (state >= 0) this.emit({ op: 'set', local: slot, value: num(state) });
        else find(machine.groups.find((g) => g.key === key)!.part);
      };
      if (shares.length < 2) take((shares[0]?.state ?? part.states[0]!.name).key);
      else
        this.emitShares(
          this.draw('unit', [], machine.span),
          shares.map((share) => (typeof share.share === 'string' ? 'rest' : share.share)),
          (i) => take(shares[i]!.state.key),
        );
    };
    const kind = this.shared.model.kinds.find((k) => k.machines.includes(machine))!;
    const now = this.hold({ op: 'state', kind: kind.index, machine: machine.index, agent });
    this.emit({ op: 'set', local: slot, value: now });
    const outside: Expr = { op: 'not', value: this.isOneOf(now, group.members.map(num)) };
    this.emit({ op: 'if', condition: outside, then: this.collect(() => find(group.part)), else: [] });
    return local(slot);
  }

  private change(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, wanted: Expr): void {
    const now = this.hold({ op: 'state', kind: kind.index, machine: machine.index, agent });
    const change = this.collect(() => {
      this.asSelf(kind.self, agent.local, () => {
        const leaves = [...machine.states, ...machine.groups].some((state) => state.part.leave.length > 0);
        if (leaves)
          this.emit({
            op: 'switch',
            value: now,
            cases: machine.states.map((_, i) => this.collect(() => this.leave(machine, i, wanted))),
          });
        const base: Expr = { op: 'clock', which: 'end of step' };
        if (wanted.op === 'number') this.enterState(kind, machine, agent, wanted.value, base, true, now);
        else
          this.emit({
            op: 'switch',
            value: wanted,
            cases: machine.states.map((_, i) =>
              this.collect(() => this.enterState(kind, machine, agent, i, base, true, now)),
            ),
          });
      });
    });
    this.emit({ op: 'if', condition: binary('is not', wanted, now), then: change, else: [] });
  }

  /** The change of a machine that others have set all at once: the agent in local 0, its new state in local 1. */
  changeBody(kind: KindSymbol, machine: MachineSymbol): Body {
    const { agent } = this.self;
    const statements = this.collect(() => this.change(kind, machine, agent, local(1)));
    return { statements, locals: this.localCount };
  }

  // Transitions

  /** The rule of a machine: the transitions of the state the agent is in, in text order, at most one of them (S21). */
  machineRule(kind: KindSymbol, machine: MachineSymbol): Body {
    const { agent } = this.self;
    const cases = machine.states.map((_, state) => this.collect(() => this.transitions(kind, machine, agent, state)));
    const statements = this.collect(() => {
      this.emit({ op: 'switch', value: { op: 'state', kind: kind.index, machine: machine.index, agent }, cases });
    });
    return { statements, locals: this.localCount };
  }

  /** Own transitions before those of the groups, inner before outer. */
  private transitionsOf(machine: MachineSymbol, state: number): Ast.Transition[] {
    const { part, groups } = machine.states[state]!;
    return [...part.transitions, ...[...groups].reverse().flatMap((group) => group.part.transitions)];
  }

  private transitions(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: number): void {
    const list = this.transitionsOf(machine, state).filter((transition) => transition.trigger !== 'on');
    const rates = list.filter((transition) => transition.trigger === 'rate');
    const steps = list.filter((transition) => transition.trigger !== 'rate' || transition === rates[0]);
    const build = (i: number): void => {
      const transition = steps[i];
      if (!transition) return;
      const next = (): void => build(i + 1);
      if (transition.trigger === 'rate') this.rateTransitions(kind, machine, agent, state, rates, next);
      else this.singleTransition(kind, machine, agent, state, transition, next);
    };
    build(0);
  }

  /** What a message does to a machine: the first transition on it that fires. */
  protected messageTransitions(kind: KindSymbol, machine: MachineSymbol, message: object): void {
    const { agent } = this.self;
    const { messageOf, locals } = this.shared.model;
    const cases = machine.states.map((_, state) =>
      this.collect(() => {
        const list = this.transitionsOf(machine, state).filter(
          (transition) => transition.trigger === 'on' && messageOf.get(transition) === message,
        );
        const build = (i: number): void => {
          const transition = list[i];
          if (!transition) return;
          const heard = locals.get(transition);
          if (heard) this.slots.set(heard, 0);
          this.singleTransition(kind, machine, agent, state, transition, () => build(i + 1));
        };
        build(0);
      }),
    );
    if (cases.some((statements) => statements.length > 0))
      this.emit({ op: 'switch', value: { op: 'state', kind: kind.index, machine: machine.index, agent }, cases });
  }

  private singleTransition(
    kind: KindSymbol,
    machine: MachineSymbol,
    agent: AgentRef,
    state: number,
    transition: Ast.Transition,
    next: () => void,
  ): void {
    const due: Expr = { op: 'due', kind: kind.index, column: this.shared.dueColumns.get(transition) ?? 0, agent };
    const end: Expr = { op: 'clock', which: 'end of step' };
    const slack = this.shared.model.clock.stepLength * 1e-9;
    let fires: Expr = num(1);
    if (transition.trigger === 'after') fires = binary('<=', due, binary('+', end, num(slack)));
    if (transition.trigger === 'when') fires = this.lower(transition.value);
    if (transition.when) fires = this.andThen(fires, () => this.lower(transition.when!));
    const isCertain = transition.value.is === 'number' && transition.value.value === 1;
    const draws = transition.trigger === 'chance' || (transition.trigger === 'on' && !isCertain);
    if (draws)
      fires = this.andThen(fires, () => this.draw('chance', [this.lower(transition.value)], transition.value.span));
    const base = transition.trigger === 'after' && !transition.when ? this.hold(due) : end;
    const then = this.collect(() => this.fire(kind, machine, agent, state, transition, base));
    const otherwise = this.collect(next);
    this.emit({ op: 'if', condition: fires, then, else: otherwise, site: this.site(transition.span, 'a transition') });
  }

  /** All rates whose condition holds compete as one draw; the winner is drawn in proportion (S21). */
  private rateTransitions(
    kind: KindSymbol,
    machine: MachineSymbol,
    agent: AgentRef,
    state: number,
    rates: readonly Ast.Transition[],
    next: () => void,
  ): void {
    const end: Expr = { op: 'clock', which: 'end of step' };
    const amounts = rates.map((transition) => {
      const slot = this.newLocal();
      this.emit({ op: 'set', local: slot, value: num(0) });
      const set = (): void => this.emit({ op: 'set', local: slot, value: this.lower(transition.value) });
      if (transition.when) {
        const condition = this.lower(transition.when);
        this.emit({ op: 'if', condition, then: this.collect(set), else: [] });
      } else set();
      return local(slot);
    });
    const total = this.hold(amounts.reduce((a, b) => binary('+', a, b)));
    const fired = this.newLocal();
    this.emit({ op: 'set', local: fired, value: num(0) });
    const chance: Expr = {
      op: 'call',
      fn: 'chance of rate',
      args: [binary('*', total, num(this.shared.model.clock.stepLength))],
    };
    const drawing = this.collect(() => {
      const luck = this.draw('chance', [chance], rates[0]!.value.span);
      this.emit({ op: 'set', local: fired, value: luck });
    });
    this.emit({ op: 'if', condition: binary('>', total, num(0)), then: drawing, else: [] });
    const then = this.collect(() => {
      if (rates.length === 1) this.fire(kind, machine, agent, state, rates[0]!, end);
      else this.competing(kind, machine, agent, state, rates, amounts, total);
    });
    this.emit({
      op: 'if',
      condition: local(fired),
      then,
      else: this.collect(next),
      site: this.site(rates[0]!.span, 'a transition'),
    });
  }

  private competing(
    kind: KindSymbol,
    machine: MachineSymbol,
    agent: AgentRef,
    state: number,
    rates: readonly Ast.Transition[],
    amounts: readonly Expr[],
    total: Expr,
  ): void {
    const luck = this.hold(binary('*', this.draw('unit', [], rates[0]!.span), total));
    let reached = amounts[0]!;
    const thresholds = amounts.map(
      (amount, i) => (reached = i === 0 ? amount : this.hold(binary('+', reached, amount))),
    );
    this.emitShares(luck, thresholds, (i) =>
      this.fire(kind, machine, agent, state, rates[i]!, { op: 'clock', which: 'end of step' }),
    );
  }

  /** The target is drawn first, so that `leave` lines of groups that are not left do not run. */
  private fire(
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
      this.leave(machine, state, this.landing(machine, key));
      this.block(transition.block);
      this.enterNamed(kind, machine, agent, key, base, true, state);
    };
    if (targets.length === 1 && targets[0]!.share === 'rest') {
      go(0);
      return;
    }
    const luck = this.draw('unit', [], transition.span);
    this.emitShares(
      luck,
      targets.map((target) => target.share),
      go,
    );
  }

  /** A state in which a transition to a name ends: of a state with states inside any, as they share its groups. */
  private landing(machine: MachineSymbol, key: string): number {
    const state = machine.states.findIndex((s) => s.key === key);
    return state >= 0 ? state : machine.groups.find((g) => g.key === key)!.members[0]!;
  }
}
