import type {
  AttributeSymbol,
  KindSymbol,
  LocalSymbol,
  MessageSymbol,
  NetworkSymbol,
  SpaceSymbol,
} from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { Point } from './body-lowerer.ts';
import { binary, local, num } from './body-lowerer.ts';
import { MachineLowerer } from './machine.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type { AgentRef, Body, Code, Expr, Query, Statement, ValueBody, WriteHow } from '../plan/plan.ts';

/** Turns the statements of one body into plan statements. */
export class StatementLowerer extends MachineLowerer {
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

  private statement(statement: Ast.Statement): void {
    const model = this.shared.model;
    this.shared.progress.at = statement.span;
    switch (statement.is) {
      case 'let': {
        const symbol = model.locals.get(statement)!;
        if (symbol.type.is === 'place') this.heldPlaces.set(symbol, this.heldPlace(this.place(statement.value)));
        else if (symbol.type.is === 'agent') this.slots.set(symbol, this.copied(this.lowerAgent(statement.value)));
        else if (symbol.type.is === 'tie') this.slots.set(symbol, this.copied(this.lowerTie(statement.value)));
        else this.emit({ op: 'set', local: this.slotOf(symbol), value: this.lower(statement.value) });
        return;
      }
      case 'assign':
        return this.assign(statement);
      case 'if': {
        const condition = this.lower(statement.condition);
        const then = this.collect(() => this.block(statement.then));
        const otherwise = this.collect(() => this.block(statement.else ?? []));
        this.emit({
          op: 'if',
          condition,
          then,
          else: otherwise,
          site: this.site(statement.condition.span, 'a condition'),
        });
        return;
      }
      case 'with':
        return this.with(statement);
      case 'for each': {
        const query = this.query(statement.query);
        const symbol = model.locals.get(statement)!;
        const candidate = model.locals.get(statement.query)!;
        const body = this.collect(() => {
          this.emit({ op: 'set', local: this.slotOf(symbol), value: local(query.candidate) });
          this.sameAs(symbol, candidate);
          this.block(statement.body);
        });
        this.emit({ op: 'each', query, shuffled: false, recheck: false, body });
        return;
      }
      case 'repeat': {
        const count = this.lower(statement.most);
        const body = this.collect(() => this.block(statement.body));
        this.emit({ op: 'repeat', count, body, site: this.site(statement.most.span, 'how often to repeat') });
        return;
      }
      case 'until':
        return this.emit({ op: 'until', condition: this.lower(statement.condition) });
      case 'add':
        return this.add(statement);
      case 'send':
        return this.send(statement);
      case 'tie': {
        const network = model.networkOf.get(statement)!;
        const a = statement.from ? this.agentIn(this.lowerAgent(statement.from)) : this.asker(network);
        const b = this.agentIn(this.lowerAgent(statement.to));
        return this.emitTie(network, a, b, this.isFlipped(network, statement.from), statement);
      }
      case 'untie': {
        const network = model.networkOf.get(statement)!;
        const a = statement.from ? this.agentIn(this.lowerAgent(statement.from)) : this.asker(network);
        const b = statement.to ? this.agentIn(this.lowerAgent(statement.to)) : undefined;
        return this.emit({ op: 'untie', network: network.index, a, b, flip: this.isFlipped(network, statement.from) });
      }
      case 'join':
        return this.join(statement);
      case 'do': {
        const routine = model.routines.get(statement)!;
        this.bindInputs(routine.inputs, routine.values);
        return this.block(routine.body);
      }
      case 'log':
        return this.log(statement);
      case 'turn':
        return this.turn(statement);
      case 'move': {
        const { kind, agent } = this.self;
        const site = this.site(statement.span, 'a move');
        if (statement.value.is === 'nowhere') this.emit({ op: 'vanish', kind: kind.index, agent });
        else if (statement.how === 'by')
          this.emit({ op: 'move by', kind: kind.index, agent, distance: this.lower(statement.value), site });
        else
          this.target(statement.value, ({ x, y }) => this.emit({ op: 'move to', kind: kind.index, agent, x, y, site }));
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

  /** A local that keeps what another holds now. */
  private copied(slot: number): number {
    const own = this.newLocal();
    this.emit({ op: 'set', local: own, value: local(slot) });
    return own;
  }

  /** A loop name or picked one stands for what the candidate of its query stands for. */
  private sameAs(symbol: LocalSymbol, candidate: LocalSymbol): void {
    const cell = this.cells.get(candidate);
    if (cell) this.cells.set(symbol, { ...cell, slot: this.slotOf(symbol) });
    const item = this.items.get(candidate);
    if (item?.op === 'list item' || item?.op === 'tally item')
      this.items.set(symbol, { ...item, index: local(this.slotOf(symbol)) });
    const place = this.heldPlaces.get(candidate);
    if (place?.x.op === 'list item' && place.y.op === 'list item') {
      const index = local(this.slotOf(symbol));
      this.heldPlaces.set(symbol, { x: { ...place.x, index }, y: { ...place.y, index } });
    }
  }

  private with(statement: Ast.StatementOf<'with'>): void {
    const symbol = this.shared.model.locals.get(statement)!;
    const otherwise = this.collect(() => this.block(statement.else ?? []));
    const { value } = statement;
    if (value.is === 'pick') {
      const slot = this.slotOf(symbol);
      this.pick(
        value,
        slot,
        () => {
          this.sameAs(symbol, this.shared.model.locals.get(value.query)!);
          this.block(statement.then);
        },
        otherwise,
      );
      return;
    }
    const slot = this.copied(symbol.type.is === 'tie' ? this.lowerTie(value) : this.lowerAgent(value));
    this.slots.set(symbol, slot);
    const then = this.collect(() => this.block(statement.then));
    this.emit({ op: 'if', condition: { op: 'somebody', local: slot }, then, else: otherwise });
  }

  /** What agents of a kind do when a message reaches them: reactions, then their machines in text order (S24). */
  reactionBody(kind: KindSymbol, message: MessageSymbol): Body {
    const { messageOf, locals } = this.shared.model;
    const statements = this.collect(() => {
      for (const reaction of kind.part.reactions) {
        if (messageOf.get(reaction) !== message) continue;
        const heard = locals.get(reaction);
        if (heard) this.slots.set(heard, 0);
        const react = (): void => this.block(reaction.body);
        if (!reaction.when) react();
        else this.emit({ op: 'if', condition: this.lower(reaction.when), then: this.collect(react), else: [] });
      }
      for (const machine of kind.machines) this.messageTransitions(kind, machine, message);
    });
    return { statements, locals: this.localCount };
  }

  // Lists, tallies, messages, ties

  private add(statement: Ast.StatementOf<'add'>): void {
    const site = this.site(statement.span, 'a value');
    this.hop(statement.target);
    const ref = this.shared.model.refs.get(statement.target);
    if (ref?.is === 'tally') {
      this.emit({ op: 'add to tally', tally: ref.tally.index, value: this.lower(statement.value), site });
      return;
    }
    if (ref?.is !== 'attribute' || ref.attribute.type.is !== 'list')
      throw new RangeError('Only lists and tallies are added to');
    const { of } = ref.attribute.type;
    const agent = this.agent(ref.agent);
    const target = {
      op: 'add to list' as const,
      kind: ref.kind.index,
      column: this.columnOf(ref.attribute),
      size: ref.attribute.line.list!.size,
      agent,
      ofAgents: of === 'agents',
      site,
    };
    if (of === 'agents') {
      const slot = this.lowerAgent(statement.value);
      const number: Expr = { op: 'number or 0', kind: this.kindIndex(ref.attribute), local: slot };
      this.emit({
        op: 'if',
        condition: { op: 'somebody', local: slot },
        then: [{ ...target, values: [number] }],
        else: [],
      });
    } else if (of === 'places') {
      const { x, y } = this.heldPlace(this.place(statement.value));
      this.emit({ ...target, values: [x, y] });
    } else this.emit({ ...target, values: [this.hold(this.lower(statement.value))] });
  }

  private kindIndex(attribute: AttributeSymbol): number {
    const { type } = attribute;
    const name = type.is === 'agent' || type.is === 'list' ? type.kind : '';
    return this.shared.model.kinds.findIndex((kind) => kind.name === name);
  }

  /** The value that a column of a type holds: for agents their number. */
  protected columnValue(attribute: AttributeSymbol, value: Ast.Expr): Expr {
    return attribute.type.is === 'agent'
      ? { op: 'number or 0', kind: this.kindIndex(attribute), local: this.lowerAgent(value) }
      : this.lower(value);
  }

  private send(statement: Ast.StatementOf<'send'>): void {
    const { model } = this.shared;
    const message = model.messageOf.get(statement) as { index: number; attributes: readonly AttributeSymbol[] };
    const values = message.attributes.map((attribute, i) => {
      const given = statement.args.find((arg, at) => (arg.name ? arg.name.key === attribute.key : at === i));
      return this.hold(this.columnValue(attribute, given?.value ?? attribute.line.value));
    });
    const delay = statement.after && this.hold(this.lower(statement.after));
    const symbol = this.acting ?? this.standing.actor;
    const sender = symbol && { kind: this.kindOfLocal(symbol).index, agent: this.agent(symbol) };
    const site = this.site(statement.span, 'a message');
    const post = (kind: number, agent: AgentRef): Statement => ({
      op: 'send',
      message: message.index,
      kind,
      agent,
      sender,
      values,
      delay,
      site,
    });
    if (statement.all) {
      const query = this.query(statement.all);
      this.emit({
        op: 'each',
        query,
        shuffled: false,
        recheck: false,
        body: [post(query.kind, this.agentIn(query.candidate))],
      });
      return;
    }
    const slot = this.lowerAgent(statement.to!);
    const type = model.types.get(statement.to!);
    const kind = model.kinds.findIndex((k) => type?.is === 'agent' && k.name === type.kind);
    if (kind >= 0)
      this.emit({
        op: 'if',
        condition: { op: 'somebody', local: slot },
        then: [post(kind, this.agentIn(slot))],
        else: [],
      });
  }

  private emitTie(
    network: NetworkSymbol,
    a: AgentRef,
    b: AgentRef,
    flip: boolean,
    statement?: Ast.StatementOf<'tie'>,
  ): void {
    const given = new Map<string, Ast.Expr>();
    for (const line of statement?.block ?? [])
      if (line.is === 'assign' && line.target.is === 'path') given.set(line.target.names[0]!.key, line.value);
    const both: Expr = binary('and', { op: 'somebody', local: a.local }, { op: 'somebody', local: b.local });
    const then = this.collect(() => {
      const values = network.attributes.map((attribute) =>
        this.hold(this.columnValue(attribute, given.get(attribute.key) ?? attribute.line.value)),
      );
      this.emit({
        op: 'tie',
        network: network.index,
        a,
        b,
        flip,
        values,
        site: this.site(statement?.span ?? network.span, 'the value of a tie'),
      });
    });
    this.emit({ op: 'if', condition: both, then, else: [] });
  }

  /** `join v by N`: ties to v and to all tied to v (S29). */
  private join(statement: Ast.StatementOf<'join'>): void {
    const network = this.shared.model.networkOf.get(statement)!;
    const self = this.asker(network);
    const v = this.lowerAgent(statement.other);
    const candidate = this.newLocal();
    const query: Query = {
      over: { is: 'agents' },
      kind: network.to.index,
      reach: { is: 'tied', network: network.index, side: 0, agent: this.agentIn(v) },
      candidate,
      except: self.local,
    };
    const then = this.collect(() => {
      this.emit({
        op: 'each',
        query,
        shuffled: false,
        recheck: false,
        body: this.collect(() => this.emitTie(network, self, this.agentIn(candidate), false)),
      });
      this.emitTie(network, self, this.agentIn(v), false);
    });
    this.emit({ op: 'if', condition: { op: 'somebody', local: v }, then, else: [] });
  }

  private log(statement: Ast.StatementOf<'log'>): void {
    const { types, kinds } = this.shared.model;
    const values = statement.values.map((value) => {
      const type = types.get(value);
      if (value.is === 'string') return { value: num(0), text: value.text };
      if (type?.is === 'choice') return { value: this.lower(value), options: type.options };
      if (type?.is === 'yesno') return { value: this.lower(value), options: ['no', 'yes'] };
      if (type?.is === 'agent')
        return {
          value: {
            op: 'number or 0' as const,
            kind: kinds.findIndex((k) => k.name === type.kind),
            local: this.lowerAgent(value),
          },
        };
      if (type?.is === 'place') return { value: this.place(value).x };
      return { value: type?.is === 'nobody' ? num(0) : this.lower(value) };
    });
    this.emit({ op: 'log', values, site: this.site(statement.span, 'a note') });
  }

  private assign({ target, op, value, span }: Ast.StatementOf<'assign'>): void {
    this.hop(target);
    const ref = this.shared.model.refs.get(target);
    const site = this.site(span, 'a value');
    if (ref?.is === 'machine') {
      this.setMachine(ref.kind, ref.machine, ref.agent, value);
      return;
    }
    if (ref?.is === 'attribute' && ref.attribute.type.is === 'place') {
      this.writePlace(ref.kind, ref.attribute, this.agent(ref.agent), this.heldPlace(this.place(value)), site);
      return;
    }
    if (ref?.is === 'attribute' && ref.attribute.type.is === 'agent') {
      this.emit({
        op: 'write',
        kind: ref.kind.index,
        column: this.columnOf(ref.attribute),
        agent: this.agent(ref.agent),
        how: '=',
        value: this.columnValue(ref.attribute, value),
        site,
      });
      return;
    }
    const lowered = this.lower(value);
    const how: WriteHow = op === '=' ? '=' : op === '+=' || op === '-=' ? '+=' : '*=';
    const amount: Expr =
      op === '-='
        ? lowered.op === 'number'
          ? num(-lowered.value)
          : { op: 'minus', value: lowered }
        : op === '/='
          ? { op: 'finite', value: binary('/', num(1), lowered), site }
          : lowered;
    if (ref?.is === 'attribute') {
      this.emit({
        op: 'write',
        kind: ref.kind.index,
        column: this.columnOf(ref.attribute),
        agent: this.agent(ref.agent),
        how,
        value: amount,
        site,
      });
    } else if (ref?.is === 'tie attribute') {
      this.emit({
        op: 'write tie',
        network: ref.network.index,
        column: ref.attribute.index,
        tie: this.slotOf(ref.tie),
        how,
        value: amount,
        site,
      });
    } else if (ref?.is === 'local') {
      const slot = this.slotOf(ref.local);
      this.emit({
        op: 'set',
        local: slot,
        value: how === '=' ? amount : binary(how === '+=' ? '+' : '*', local(slot), amount),
      });
    } else if (ref?.is === 'field') {
      const { x, y } = target.is === 'at' ? this.place(target.place) : this.here();
      this.emit({ op: 'write field', field: ref.field.index, x, y, how, value: amount, site });
    } else if (ref?.is === 'variable') {
      this.emit({ op: 'write variable', index: ref.variable.index, how, value: amount, site });
    } else if (ref?.is === 'parameter') {
      this.emit({ op: 'write parameter', index: ref.parameter.index, value: amount, site });
    }
  }

  protected writePlace(
    kind: KindSymbol,
    attribute: AttributeSymbol,
    agent: AgentRef,
    { x, y }: Point,
    site: number,
  ): void {
    const column = this.columnOf(attribute);
    this.emit({ op: 'write', kind: kind.index, column, agent, how: '=', value: x, site, mayBeEmpty: true });
    this.emit({ op: 'write', kind: kind.index, column: column + 1, agent, how: '=', value: y, site, mayBeEmpty: true });
  }

  /** Runs `use` with a place; a picker that finds nobody does nothing (S11). */
  private target(expr: Ast.Expr, use: (place: Point) => void): void {
    if (expr.is !== 'pick') {
      use(this.place(expr));
      return;
    }
    const slot = this.newLocal();
    this.pick(expr, slot, () => use(this.pickedPlace(expr, slot)), []);
  }

  private bearingTo(place: Point): Expr {
    const here = this.placeOf(this.self.symbol);
    return { op: 'bearing', space: this.self.kind.space!.index, ax: here.x, ay: here.y, bx: place.x, by: place.y };
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
      const far = this.hold({
        op: 'distance',
        space: kind.space!.index,
        ax: here.x,
        ay: here.y,
        bx: held.x,
        by: held.y,
      });
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
    const type = this.shared.model.types.get(target);
    const kind = this.shared.model.kinds.find((k) => type?.is === 'agent' && k.name === type.kind);
    if (!kind) return;
    const slot = this.lowerAgent(target);
    const agent = this.agentIn(slot);
    const isSure = target.is === 'path' && type?.is === 'agent' && !type.maybe;
    if (isSure) this.emit({ op: 'remove', kind: kind.index, agent });
    else
      this.emit({
        op: 'if',
        condition: { op: 'somebody', local: slot },
        then: [{ op: 'remove', kind: kind.index, agent }],
        else: [],
      });
    if (agent.own) this.emit({ op: 'end turn' });
  }

  // New agents

  private createOne(statement: Ast.StatementOf<'create'>): void {
    const model = this.shared.model;
    const kind = model.kindOf.get(statement)!;
    const newborn = model.locals.get(statement)!;
    const place = statement.placing ? this.placing(statement.placing) : undefined;
    const given = new Map<object, Given>();
    const others: Ast.Statement[] = [];
    for (const line of statement.block) {
      const ref = line.is === 'assign' && isBare(line.target) ? model.refs.get(line.target) : undefined;
      if (line.is === 'assign' && ref?.is === 'attribute' && ref.agent === newborn)
        given.set(ref.attribute, this.givenValue(ref.attribute, line.value));
      else if (line.is === 'assign' && ref?.is === 'machine' && ref.agent === newborn)
        given.set(ref.machine, { state: this.heldState(ref.machine, line.value) });
      else others.push(line);
    }
    this.makeAgent(
      kind,
      newborn,
      place,
      undefined,
      given,
      { op: 'clock', which: 'end of step' },
      this.site(statement.span, 'a new agent'),
      () => this.block(others),
    );
  }

  private givenValue(attribute: AttributeSymbol, value: Ast.Expr): Given {
    if (attribute.type.is === 'place') return { place: this.heldPlace(this.place(value)) };
    const lowered = this.columnValue(attribute, value);
    return { value: lowered.op === 'attribute' ? this.hold(binary('+', lowered, num(0))) : this.hold(lowered) };
  }

  /**
   * A new agent: its direction, then its attributes in text order unless `given`, then its machines.
   * @param base the time from which the durations of the first states count
   */
  makeAgent(
    kind: KindSymbol,
    newborn: LocalSymbol,
    place: Point | undefined,
    facing: ((at: Point) => Expr) | undefined,
    given: ReadonlyMap<object, Given>,
    base: Expr,
    site: number,
    rest: () => void,
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
        for (const attribute of kind.attributes) this.firstValue(kind, attribute, agent, given.get(attribute));
        for (const machine of kind.machines) {
          const state = given.get(machine)?.state;
          if (!state) this.startMachine(kind, machine, agent, base);
          else if (typeof state === 'function') state(kind, agent, base);
          else this.enterDynamic(kind, machine, agent, state, base);
        }
      });
      rest();
    });
    this.emit({ op: 'create', kind: kind.index, local: slot, x: held?.x, y: held?.y, site, found });
  }

  private firstValue(kind: KindSymbol, attribute: AttributeSymbol, agent: AgentRef, given: Given | undefined): void {
    const { line, type } = attribute;
    if (type.is === 'list') return;
    const site = this.site(line.span, 'the first value');
    if (type.is === 'place') {
      this.writePlace(kind, attribute, agent, given?.place ?? this.heldPlace(this.place(line.value)), site);
      return;
    }
    const value = given?.value ?? this.columnValue(attribute, line.value);
    this.emit({ op: 'write', kind: kind.index, column: this.columnOf(attribute), agent, how: '=', value, site });
  }

  placing(placing: Ast.Placing): Point {
    const space = this.shared.model.spaceOf.get(placing)!;
    switch (placing.is) {
      case 'anywhere':
      case 'one to a cell':
        return this.somewhere(space, placing.span);
      case 'here':
        return this.here();
      case 'at':
        return this.place(placing.of!);
      case 'nowhere':
        return { x: num(NaN), y: num(NaN) };
      case 'zone':
        return this.inZone(this.shared.model.zoneOf.get(placing)!, placing.span);
      case 'next to': {
        const { x, y } = this.place(placing.of!);
        return this.drawnCell(
          space,
          { is: 'next to', space: space.index, distance: num(0), x: this.hold(x), y: this.hold(y) },
          undefined,
          placing,
        );
      }
      case 'cells': {
        if (this.standing.actor) return this.drawnCell(space, undefined, placing.where, placing);
        const slot = this.newLocal();
        this.emit({
          op: 'draw listed',
          space: space.index,
          local: slot,
          site: this.site(placing.span, 'a cell to start on'),
        });
        return this.cellPlace({ slot, raster: rasterOfSpace(space.index) });
      }
      case 'within':
      case 'circle': {
        const centre = this.place(placing.of!);
        const radius = this.hold(this.lower(placing.distance!));
        const far =
          placing.is === 'circle'
            ? radius
            : binary('*', radius, { op: 'call', fn: 'sqrt', args: [this.draw('unit', [], placing.span)] });
        const angle = this.hold(binary('*', this.draw('unit', [], placing.span), num(360)));
        return this.fromHere(space.index, this.hold(far), angle, centre);
      }
    }
  }

  /** One of the cells in a reach that fit a condition, drawn evenly, where a cell holds one agent an empty one; here if there is none. */
  private drawnCell(
    space: SpaceSymbol,
    reach: Query['reach'] | undefined,
    where: Ast.Expr | undefined,
    placing: Ast.Placing,
  ): Point {
    const symbol = this.shared.model.locals.get(placing);
    const candidate = symbol ? this.slotOf(symbol) : this.newLocal();
    const raster = rasterOfSpace(space.index);
    if (symbol) this.cells.set(symbol, { slot: candidate, raster });
    const code: Code | undefined = where && this.code(where);
    const query: Query = {
      over: { is: 'cells', raster, empty: space.oneAgentACell },
      kind: -1,
      reach: reach ?? { is: 'all' },
      candidate,
      where: code,
    };
    const slot = this.newLocal();
    const x = this.newLocal();
    const y = this.newLocal();
    const set = (to: Point): Statement[] => [
      { op: 'set', local: x, value: to.x },
      { op: 'set', local: y, value: to.y },
    ];
    const here = reach && reach.is !== 'all' && reach.is !== 'tied' ? { x: reach.x, y: reach.y } : this.here();
    this.emit({
      op: 'pick',
      local: slot,
      how: 'random',
      query,
      found: set(this.cellPlace({ slot, raster })),
      nobody: set(here),
      site: this.site(placing.span, 'a cell'),
    });
    return { x: local(x), y: local(y) };
  }
}

/** What a new agent is given instead of the first value of an attribute or machine. */
export interface Given {
  readonly value?: Expr;
  readonly place?: Point;
  readonly state?: Expr | ((kind: KindSymbol, agent: AgentRef, base: Expr) => void);
}

function isBare(target: Ast.Expr): boolean {
  return target.is === 'path' && target.names.length === 1;
}
