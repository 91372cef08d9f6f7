import type { KindSymbol, LocalSymbol, MachineSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { Point } from './lower-expression.ts';
import { binary, ExpressionLowerer, local, num } from './lower-expression.ts';
import type { AgentRef, Body, Expr, Statement, ValueBody, WriteHow } from './plan.ts';

/** A duration of nothing is due within the step after: at least one step later (S5). */
const NO_DURATION_STEPS = 0.5;

/** Turns the statements of one body into plan statements. */
export class StatementLowerer extends ExpressionLowerer {
  body(block: Ast.Block): Body {
    const statements = this.collect(() => this.block(block));
    return { statements, locals: this.localCount };
  }

  valueBody(expr: Ast.Expr): ValueBody {
    const code = this.code(expr);
    return { ...code, locals: this.localCount };
  }

  block(block: Ast.Block): void {
    for (const statement of block) this.statement(statement);
  }

  private get self(): { kind: KindSymbol; agent: AgentRef; symbol: LocalSymbol } {
    const symbol = this.acting;
    if (!symbol) throw new RangeError('Nobody acts here');
    return { kind: this.kindOfLocal(symbol), agent: this.agent(symbol), symbol };
  }

  private statement(statement: Ast.Statement): void {
    const model = this.shared.model;
    switch (statement.is) {
      case 'let': {
        const symbol = model.locals.get(statement)!;
        if (symbol.type.is === 'place') {
          const { x, y } = this.place(statement.value);
          this.heldPlaces.set(symbol, { x: this.hold(this.copy(x)), y: this.hold(this.copy(y)) });
        } else this.emit({ op: 'set', local: this.slotOf(symbol), value: this.lower(statement.value) });
        return;
      }
      case 'assign':
        return this.assign(statement);
      case 'if': {
        const condition = this.lower(statement.condition);
        const then = this.collect(() => this.block(statement.then));
        const otherwise = this.collect(() => this.block(statement.else ?? []));
        this.emit({ op: 'if', condition, then, else: otherwise });
        return;
      }
      case 'with': {
        const symbol = model.locals.get(statement)!;
        const otherwise = this.collect(() => this.block(statement.else ?? []));
        this.pick(statement.value as Ast.ExprOf<'pick'>, this.slotOf(symbol), () => this.block(statement.then), otherwise);
        return;
      }
      case 'for each': {
        const query = this.query(statement.query);
        const symbol = model.locals.get(statement)!;
        const body = this.collect(() => {
          this.emit({ op: 'set', local: this.slotOf(symbol), value: local(query.candidate) });
          this.block(statement.body);
        });
        this.emit({ op: 'each', query, shuffled: false, recheck: false, body });
        return;
      }
      case 'turn':
        return this.turn(statement);
      case 'move': {
        const { kind, agent } = this.self;
        const site = this.site(statement.span, 'a move');
        if (statement.how === 'by') this.emit({ op: 'move by', kind: kind.index, agent, distance: this.lower(statement.value), site });
        else this.target(statement.value, ({ x, y }) => this.emit({ op: 'move to', kind: kind.index, agent, x, y, site }));
        return;
      }
      case 'move toward':
        return this.moveToward(statement);
      case 'create': {
        const count = this.lower(statement.count);
        const body = this.collect(() => this.createOne(statement));
        if (count.op === 'number' && count.value === 1) for (const inner of body) this.emit(inner);
        else this.emit({ op: 'repeat', count, body, site: this.site(statement.count.span, 'how many to create') });
        return;
      }
      case 'remove':
        return this.remove(statement);
      case 'end run':
        this.emit({ op: 'end run' });
    }
  }

  /** A read of a column that later lines may write is kept as it is now. */
  private copy(value: Expr): Expr {
    return value.op === 'position' ? binary('+', value, num(0)) : value;
  }

  private assign({ target, op, value, span }: Ast.StatementOf<'assign'>): void {
    const ref = this.shared.model.refs.get(target);
    const site = this.site(span, 'a value');
    if (ref?.is === 'machine') {
      this.setMachine(ref.kind, ref.machine, ref.agent, this.lower(value));
      return;
    }
    const lowered = this.lower(value);
    const how: WriteHow = op === '=' ? '=' : op === '+=' || op === '-=' ? '+=' : '*=';
    const amount: Expr =
      op === '-=' ? (lowered.op === 'number' ? num(-lowered.value) : { op: 'minus', value: lowered })
      : op === '/=' ? { op: 'finite', value: binary('/', num(1), lowered), site }
      : lowered;
    if (ref?.is === 'attribute') {
      this.emit({ op: 'write', kind: ref.kind.index, column: ref.attribute.index, agent: this.agent(ref.agent), how, value: amount, site });
    } else if (ref?.is === 'field') {
      const { x, y } = target.is === 'at' ? this.place(target.place) : this.here();
      this.emit({ op: 'write field', field: ref.field.index, x, y, how, value: amount, site });
    } else if (ref?.is === 'variable') {
      this.emit({ op: 'write variable', index: ref.variable.index, how, value: amount, site });
    } else if (ref?.is === 'parameter') {
      this.emit({ op: 'write parameter', index: ref.parameter.index, value: amount, site });
    }
  }

  private pick(expr: Ast.ExprOf<'pick'>, slot: number, then: () => void, otherwise: readonly Statement[]): void {
    const query = this.query(expr.query);
    const by = expr.by ? this.code(expr.by) : undefined;
    const reach = query.reach;
    const from = expr.how !== 'nearest' ? undefined : reach.is === 'all' ? this.heldHere() : { x: reach.x, y: reach.y };
    const found = this.collect(then);
    this.emit({ op: 'pick', local: slot, how: expr.how, query, by, from, found, nobody: otherwise });
  }

  private heldHere(): Point {
    const { x, y } = this.here();
    return { x: this.hold(x), y: this.hold(y) };
  }

  /** Runs `use` with a place; a picker that finds nobody does nothing (S11). */
  private target(expr: Ast.Expr, use: (place: Point) => void): void {
    if (expr.is !== 'pick') {
      use(this.place(expr));
      return;
    }
    const kind = this.shared.model.kindOf.get(expr.query)!;
    const slot = this.newLocal();
    const agent: AgentRef = { local: slot, own: false };
    this.pick(expr, slot, () => use({ x: { op: 'position', kind: kind.index, axis: 'x', agent }, y: { op: 'position', kind: kind.index, axis: 'y', agent } }), []);
  }

  private bearingTo(place: Point): Expr {
    const here = this.placeOf(this.self.symbol);
    return { op: 'bearing', ax: here.x, ay: here.y, bx: place.x, by: place.y };
  }

  private turn(statement: Ast.StatementOf<'turn'>): void {
    const { kind, agent } = this.self;
    const site = this.site(statement.span, 'a turn');
    const emit = (direction: Expr): void => this.emit({ op: 'turn', kind: kind.index, agent, direction, site });
    if (statement.how === 'by') {
      const facing: Expr = { op: 'position', kind: kind.index, axis: 'direction', agent };
      emit(binary('+', facing, this.lower(statement.value)));
    } else if (this.shared.model.types.get(statement.value)?.is === 'number') emit(this.lower(statement.value));
    else this.target(statement.value, (place) => emit(this.bearingTo(place)));
  }

  private moveToward(statement: Ast.StatementOf<'move toward'>): void {
    const { kind, agent } = this.self;
    const site = this.site(statement.span, 'a move');
    this.target(statement.target, (place) => {
      const held = { x: this.hold(place.x), y: this.hold(place.y) };
      const here = this.placeOf(this.self.symbol);
      const far = this.hold({ op: 'distance', ax: here.x, ay: here.y, bx: held.x, by: held.y });
      const by = this.hold({ op: 'call', fn: 'min', args: [this.lower(statement.by), far] });
      const isAway = binary('>', far, num(0));
      const body = this.collect(() => {
        this.emit({ op: 'turn', kind: kind.index, agent, direction: this.bearingTo(held), site });
        this.emit({ op: 'move by', kind: kind.index, agent, distance: by, site });
      });
      this.emit({ op: 'if', condition: isAway, then: body, else: [] });
    });
  }

  private remove(statement: Ast.StatementOf<'remove'>): void {
    const { target } = statement;
    if (target.is === 'pick') {
      const kind = this.shared.model.kindOf.get(target.query)!;
      const slot = this.newLocal();
      this.pick(target, slot, () => this.emit({ op: 'remove', kind: kind.index, agent: { local: slot, own: false } }), []);
      return;
    }
    const ref = this.shared.model.refs.get(target);
    if (ref?.is !== 'local') throw new RangeError('Only an agent is removed');
    this.emit({ op: 'remove', kind: this.kindOfLocal(ref.local).index, agent: this.agent(ref.local) });
    if (this.agent(ref.local).own) this.emit({ op: 'end turn' });
  }

  // New agents

  private createOne(statement: Ast.StatementOf<'create'>): void {
    const model = this.shared.model;
    const kind = model.kindOf.get(statement)!;
    const newborn = model.locals.get(statement)!;
    const place = statement.placing ? this.placing(statement.placing) : undefined;
    const given = new Map<object, Expr>();
    const others: Ast.Statement[] = [];
    for (const line of statement.block) {
      const ref = line.is === 'assign' ? model.refs.get(line.target) : undefined;
      if (line.is === 'assign' && ref?.is === 'attribute' && ref.agent === newborn && isBare(line.target)) given.set(ref.attribute, this.hold(this.lower(line.value)));
      else if (line.is === 'assign' && ref?.is === 'machine' && ref.agent === newborn && isBare(line.target)) given.set(ref.machine, this.hold(this.lower(line.value)));
      else others.push(line);
    }
    this.makeAgent(kind, newborn, place, undefined, given, { op: 'clock', which: 'end of step' }, this.site(statement.span, 'a new agent'), () => this.block(others));
  }

  /**
   * A new agent: its direction, then its attributes in text order unless `given`, then its machines.
   * @param base the time from which the durations of the first states count
   */
  makeAgent(
    kind: KindSymbol, newborn: LocalSymbol, place: Point | undefined, facing: ((at: Point) => Expr) | undefined, given: ReadonlyMap<object, Expr>, base: Expr, site: number, rest: () => void,
  ): void {
    const slot = this.slotOf(newborn);
    this.freshSlots.add(slot);
    const agent: AgentRef = { local: slot, own: false, fresh: true };
    const held = place && { x: this.hold(place.x), y: this.hold(place.y) };
    const found = this.collect(() => {
      if (held) {
        const direction = facing ? facing(held) : binary('*', this.draw('unit', [], kind.span), num(360));
        this.emit({ op: 'turn', kind: kind.index, agent, direction, site });
      }
      this.asSelf(kind.self, slot, () => {
        for (const attribute of kind.attributes) {
          const value = given.get(attribute) ?? this.lower(attribute.line.value);
          this.emit({ op: 'write', kind: kind.index, column: attribute.index, agent, how: '=', value, site: this.site(attribute.line.span, 'the first value') });
        }
        for (const machine of kind.machines) {
          const state = given.get(machine);
          if (state) this.enterDynamic(kind, machine, agent, state, base);
          else this.startMachine(kind, machine, agent, base);
        }
      });
      rest();
    });
    this.emit({ op: 'create', kind: kind.index, local: slot, x: held?.x, y: held?.y, site, found });
  }

  placing(placing: Ast.Placing): Point {
    switch (placing.is) {
      case 'anywhere':
      case 'one to a cell':
        return this.somewhere(placing.span);
      case 'here':
        return this.here();
      case 'at':
        return this.place(placing.of!);
      case 'within':
      case 'circle': {
        const centre = this.place(placing.of!);
        const radius = this.hold(this.lower(placing.distance!));
        const far = placing.is === 'circle' ? radius : binary('*', radius, { op: 'call', fn: 'sqrt', args: [this.draw('unit', [], placing.span)] });
        const angle = this.hold(binary('*', this.draw('unit', [], placing.span), num(360)));
        return this.fromHere(this.hold(far), angle, centre);
      }
    }
  }

  // State machines

  private startMachine(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, base: Expr): void {
    const shares = machine.part.start.filter((share) => !share.exact);
    const enter = (name: Ast.Name | undefined): void => this.enterState(kind, machine, agent, name ? stateIndex(machine, name) : 0, base, false);
    const sole = shares.length === 0 ? undefined : shares.length === 1 ? shares[0]!.state : null;
    if (sole !== null) {
      enter(sole);
      return;
    }
    const luck = this.draw('unit', [], machine.span);
    this.emitShares(luck, shares.map((share) => (typeof share.share === 'string' ? 'rest' : share.share)), (i) => enter(shares[i]!.state));
  }

  private enterDynamic(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: Expr, base: Expr): void {
    if (state.op === 'number') {
      this.enterState(kind, machine, agent, state.value, base, false);
      return;
    }
    const cases = machine.states.map((_, index) => this.collect(() => this.enterState(kind, machine, agent, index, base, false)));
    this.emit({ op: 'switch', value: state, cases });
  }

  /** Takes up a state: the state itself, then the due times of its durations, then its `enter` lines. */
  enterState(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: number, base: Expr, runsEnter: boolean): void {
    this.emit({ op: 'become', kind: kind.index, machine: machine.index, agent, state });
    const part = machine.states[state]!.part;
    const firstDue = this.shared.dueColumns.get(machine)!;
    const durations = part.transitions.filter((transition) => transition.trigger === 'after');
    durations.forEach((transition, i) => {
      const duration = this.hold(this.lower(transition.value));
      const atLeast: Expr = { op: 'choose', condition: binary('>', duration, num(0)), then: duration, else: num(NO_DURATION_STEPS * this.shared.model.clock.stepLength) };
      const site = this.site(transition.span, 'a duration');
      this.emit({ op: 'write due', kind: kind.index, column: firstDue + i, agent, value: binary('+', base, atLeast), site });
    });
    if (runsEnter) for (const block of part.enter) this.block(block);
  }

  /** A machine set by a statement: nothing happens if it is in that state already (S22). */
  private setMachine(kind: KindSymbol, machine: MachineSymbol, owner: LocalSymbol, value: Expr): void {
    const agent = this.agent(owner);
    const wanted = this.hold(value);
    const now = this.hold({ op: 'state', kind: kind.index, machine: machine.index, agent });
    const change = this.collect(() => {
      this.asSelf(kind.self, agent.local, () => {
        const leaves = machine.states.some((state) => state.part.leave.length > 0);
        if (leaves) this.emit({ op: 'switch', value: now, cases: machine.states.map((state) => this.collect(() => state.part.leave.forEach((block) => this.block(block)))) });
        const base: Expr = { op: 'clock', which: 'end of step' };
        if (wanted.op === 'number') this.enterState(kind, machine, agent, wanted.value, base, true);
        else this.emit({ op: 'switch', value: wanted, cases: machine.states.map((_, i) => this.collect(() => this.enterState(kind, machine, agent, i, base, true))) });
      });
    });
    this.emit({ op: 'if', condition: binary('is not', wanted, now), then: change, else: [] });
  }

  /** The rule of a machine: the transitions of the state the agent is in, in text order, at most one of them (S21). */
  machineRule(kind: KindSymbol, machine: MachineSymbol): Body {
    const { agent } = this.self;
    const cases = machine.states.map((_, state) => this.collect(() => this.transitions(kind, machine, agent, state)));
    const statements = this.collect(() => {
      this.emit({ op: 'switch', value: { op: 'state', kind: kind.index, machine: machine.index, agent }, cases });
    });
    return { statements, locals: this.localCount };
  }

  private transitions(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: number): void {
    const list = machine.states[state]!.part.transitions;
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

  private singleTransition(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: number, transition: Ast.Transition, next: () => void): void {
    const firstDue = this.shared.dueColumns.get(machine)!;
    const durations = machine.states[state]!.part.transitions.filter((t) => t.trigger === 'after');
    const due: Expr = { op: 'due', kind: kind.index, column: firstDue + durations.indexOf(transition), agent };
    const end: Expr = { op: 'clock', which: 'end of step' };
    const slack = this.shared.model.clock.stepLength * 1e-9;
    let fires: Expr;
    switch (transition.trigger) {
      case 'after':
        fires = binary('<=', due, binary('+', end, num(slack)));
        break;
      case 'when':
        fires = this.lower(transition.value);
        break;
      default:
        fires = num(1);
    }
    if (transition.when) fires = this.andThen(fires, () => this.lower(transition.when!));
    if (transition.trigger === 'chance') fires = this.andThen(fires, () => this.draw('chance', [this.lower(transition.value)], transition.value.span));
    const base = transition.trigger === 'after' && !transition.when ? this.hold(due) : end;
    const then = this.collect(() => this.fire(kind, machine, agent, state, transition, base));
    const otherwise = this.collect(next);
    this.emit({ op: 'if', condition: fires, then, else: otherwise });
  }

  private andThen(condition: Expr, build: () => Expr): Expr {
    let value: Expr = num(0);
    const statements = this.collect(() => (value = build()));
    if (statements.length === 0) return condition.op === 'number' ? value : binary('and', condition, value);
    const slot = this.newLocal();
    this.emit({ op: 'set', local: slot, value: condition });
    this.emit({ op: 'if', condition: local(slot), then: [...statements, { op: 'set', local: slot, value }], else: [] });
    return local(slot);
  }

  /** All rates whose condition holds compete as one draw; the winner is drawn in proportion (S21). */
  private rateTransitions(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: number, rates: readonly Ast.Transition[], next: () => void): void {
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
    const chance: Expr = { op: 'call', fn: 'chance of rate', args: [binary('*', total, num(this.shared.model.clock.stepLength))] };
    const drawing = this.collect(() => {
      const luck = this.draw('chance', [chance], rates[0]!.value.span);
      this.emit({ op: 'set', local: fired, value: luck });
    });
    this.emit({ op: 'if', condition: binary('>', total, num(0)), then: drawing, else: [] });
    const then = this.collect(() => {
      if (rates.length === 1) this.fire(kind, machine, agent, state, rates[0]!, end);
      else this.competing(kind, machine, agent, state, rates, amounts, total);
    });
    this.emit({ op: 'if', condition: local(fired), then, else: this.collect(next) });
  }

  private competing(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: number, rates: readonly Ast.Transition[], amounts: readonly Expr[], total: Expr): void {
    const luck = this.hold(binary('*', this.draw('unit', [], rates[0]!.span), total));
    let reached = amounts[0]!;
    const thresholds = amounts.map((amount, i) => (reached = i === 0 ? amount : this.hold(binary('+', reached, amount))));
    this.emitShares(luck, thresholds, (i) => this.fire(kind, machine, agent, state, rates[i]!, { op: 'clock', which: 'end of step' }));
  }

  private fire(kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, state: number, transition: Ast.Transition, base: Expr): void {
    for (const block of machine.states[state]!.part.leave) this.block(block);
    this.block(transition.block);
    const { targets } = transition;
    const enter = (i: number): void => this.enterState(kind, machine, agent, stateIndex(machine, targets[i]!.state), base, true);
    if (targets.length === 1 && targets[0]!.share === 'rest') {
      enter(0);
      return;
    }
    const luck = this.draw('unit', [], transition.span);
    this.emitShares(luck, targets.map((target) => target.share), enter);
  }

  // Interactions

  interaction(part: Ast.InteractionPart, partner: LocalSymbol, inTurn: boolean): Body {
    const { kind: actorKind, symbol: actor } = this.self;
    const partnerKind = this.kindOfLocal(partner);
    const slot = this.slotOf(partner);
    const twins = actorKind === partnerKind;
    const statements = this.collect(() => {
      const reach = this.reach(part.reach);
      let where = part.where ? this.code(part.where) : undefined;
      if (part.oncePerPair && twins) where = this.laterOnly(actorKind, actor, slot, where);
      const query = { kind: partnerKind.index, reach, candidate: slot, except: twins ? this.slotOf(actor) : undefined, where };
      const body = this.collect(() => this.meeting(part));
      if (!part.pick) this.emit({ op: 'each', query, shuffled: inTurn, recheck: inTurn && where !== undefined, body });
      else {
        const from = reach.is === 'all' ? undefined : { x: reach.x, y: reach.y };
        this.emit({ op: 'pick', local: slot, how: part.pick, query, from: part.pick === 'nearest' ? from : undefined, found: body, nobody: [] });
      }
    });
    return { statements, locals: this.localCount };
  }

  /** Each pair once: the one with the lower number meets the other. */
  private laterOnly(kind: KindSymbol, actor: LocalSymbol, partner: number, where: { statements: readonly Statement[]; value: Expr } | undefined) {
    const later = binary('>', { op: 'number of', kind: kind.index, agent: { local: partner, own: false } }, { op: 'number of', kind: kind.index, agent: this.agent(actor) });
    return where ? { statements: where.statements, value: binary('and', later, where.value) } : { statements: [], value: later };
  }

  private meeting(part: Ast.InteractionPart): void {
    if (!part.luck) {
      this.block(part.body);
      return;
    }
    const value = this.lower(part.luck.value);
    const chance: Expr = part.luck.is === 'chance' ? value : { op: 'call', fn: 'chance of rate', args: [binary('*', value, num(this.shared.model.clock.stepLength))] };
    const luck = this.draw('chance', [chance], part.luck.value.span);
    this.emit({ op: 'if', condition: luck, then: this.collect(() => this.block(part.body)), else: [] });
  }
}

function isBare(target: Ast.Expr): boolean {
  return target.is === 'path' && target.names.length === 1;
}

export function stateIndex(machine: MachineSymbol, name: Ast.Name): number {
  return machine.states.findIndex((state) => state.key === name.key);
}
