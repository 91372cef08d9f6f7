import type { Span } from '../diagnostics.ts';
import { daysFromCivil } from '../engine/calendar.ts';
import type { CheckedModel, KindSymbol, LocalSymbol, Ref } from '../language/checked.ts';
import { FUNCTIONS } from '../language/functions.ts';
import { unitScale } from '../language/scales.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, BinaryFunction, Code, Expr, Law, PureFunction, Query, Reach, Site, Statement } from './plan.ts';

/** What all bodies of a model share while it is lowered. */
export interface Lowering {
  readonly model: CheckedModel;
  readonly sites: Site[];
  /** First counter of each machine, by machine symbol. */
  readonly counters: ReadonlyMap<object, number>;
  readonly dueColumns: ReadonlyMap<object, number>;
}

export interface Point {
  readonly x: Expr;
  readonly y: Expr;
}

/** Where the body acts from: its agent, or a place for fields. */
export interface Standing {
  readonly actor?: LocalSymbol;
  readonly here?: Point;
  /** The field whose own cell is meant by its bare name. */
  readonly ownField?: number;
}

const MAY_LEAVE_NUMBERS: ReadonlySet<string> = new Set(['log', 'exp', 'sqrt', 'tan', 'mod', 'power']);
const BUILT_FUNCTIONS: ReadonlySet<string> = new Set([
  'abs', 'min', 'max', 'clip', 'mod', 'round', 'floor', 'ceiling', 'sqrt', 'exp', 'log', 'sin', 'cos', 'tan', 'swing',
]);

/** The local of the acting agent, where there is one. */
const ACTOR_SLOT = 0;

export const num = (value: number): Expr => ({ op: 'number', value });
export const local = (index: number): Expr => ({ op: 'local', local: index });
export const binary = (fn: BinaryFunction, left: Expr, right: Expr): Expr => ({ op: 'binary', fn, left, right });

/** Turns the expressions of one body into plan expressions; what loops or draws becomes statements before them. */
export class ExpressionLowerer {
  private readonly slots = new Map<LocalSymbol, number>();
  private readonly aliases = new Map<LocalSymbol, number>();
  /** Locals that hold agents made in this body. */
  protected readonly freshSlots = new Set<number>();
  /** Whose place is here and whose `turn` and `move` are meant. */
  protected acting: LocalSymbol | undefined;
  private sink: Statement[] = [];
  private nextLocal = 0;

  constructor(
    readonly shared: Lowering,
    readonly rule: string,
    readonly standing: Standing,
  ) {
    this.acting = standing.actor;
    if (standing.actor) this.slots.set(standing.actor, this.newLocal());
    else if (standing.here) this.nextLocal = 2;
  }

  get localCount(): number {
    return this.nextLocal;
  }

  newLocal(): number {
    return this.nextLocal++;
  }

  slotOf(symbol: LocalSymbol): number {
    const alias = this.aliases.get(symbol);
    if (alias !== undefined) return alias;
    let slot = this.slots.get(symbol);
    if (slot === undefined) {
      slot = this.newLocal();
      this.slots.set(symbol, slot);
    }
    return slot;
  }

  agent(symbol: LocalSymbol): AgentRef {
    const slot = this.slotOf(symbol);
    return { local: slot, own: this.standing.actor !== undefined && slot === ACTOR_SLOT, fresh: this.freshSlots.has(slot) || undefined };
  }

  /** While `build` runs, the kind's own names mean the agent in `slot`: a new one, a candidate, one whose machine is set. */
  protected asSelf(self: LocalSymbol, slot: number, build: () => void): void {
    const before = this.aliases.get(self);
    const acting = this.acting;
    this.aliases.set(self, slot);
    this.acting = self;
    build();
    this.acting = acting;
    if (before === undefined) this.aliases.delete(self);
    else this.aliases.set(self, before);
  }

  site(span: Span, what: string): number {
    return this.shared.sites.push({ span, rule: this.rule, what }) - 1;
  }

  emit(statement: Statement): void {
    this.sink.push(statement);
  }

  /** Collects the statements that `build` emits. */
  collect(build: () => void): Statement[] {
    const outer = this.sink;
    this.sink = [];
    build();
    const collected = this.sink;
    this.sink = outer;
    return collected;
  }

  code(expr: Ast.Expr): Code {
    let value: Expr = num(0);
    const statements = this.collect(() => (value = this.lower(expr)));
    return { statements, value };
  }

  /** Keeps a value in a local, so that using it twice computes it once. */
  hold(value: Expr): Expr {
    if (value.op === 'number' || value.op === 'local' || value.op === 'parameter') return value;
    const slot = this.newLocal();
    this.emit({ op: 'set', local: slot, value });
    return local(slot);
  }

  private finite(value: Expr, span: Span, what: string): Expr {
    return { op: 'finite', value, site: this.site(span, what) };
  }

  draw(law: Law, args: readonly Expr[], span: Span): Expr {
    const slot = this.newLocal();
    this.emit({ op: 'draw', local: slot, law, args, site: this.site(span, `a draw from ${law}`) });
    return local(slot);
  }

  lower(expr: Ast.Expr): Expr {
    switch (expr.is) {
      case 'number': {
        const scale = expr.unit && unitScale(expr.unit.key, this.shared.model.scales);
        return num(expr.value * (scale?.factor ?? 1));
      }
      case 'percent':
        return num(expr.value);
      case 'time':
        return num((expr.hours * 3600) / (this.shared.model.scales.time?.size ?? 1));
      case 'date':
        return num(daysFromCivil(...(expr.text.split('-').map(Number) as [number, number, number])));
      case 'yesno':
        return num(expr.value ? 1 : 0);
      case 'brackets':
        return this.lower(expr.value);
      case 'with unit': {
        const factor = unitScale(expr.unit.key, this.shared.model.scales)?.factor ?? 1;
        return factor === 1 ? this.lower(expr.value) : binary('*', this.lower(expr.value), num(factor));
      }
      case 'per': {
        const factor = (unitScale(expr.unit.key, this.shared.model.scales)?.factor ?? 1) * expr.count;
        const value = this.lower(expr.value);
        if (value.op === 'number') return num(value.value / factor);
        return factor === 1 ? value : binary('/', value, num(factor));
      }
      case 'unary': {
        const value = this.lower(expr.value);
        if (value.op === 'number' && expr.op === '-') return num(-value.value);
        return { op: expr.op === '-' ? 'minus' : 'not', value };
      }
      case 'binary':
        return this.binary(expr);
      case 'one of':
        return this.oneOf(expr);
      case 'if':
        return this.conditional(expr);
      case 'path':
        return this.path(expr);
      case 'call':
        return this.call(expr);
      case 'at': {
        const ref = this.shared.model.refs.get(expr);
        if (ref?.is !== 'field') throw new RangeError(`No field at “${expr.field.text}”`);
        const { x, y } = this.place(expr.place);
        return { op: 'field', field: ref.field.index, x, y };
      }
      case 'ask':
        return this.ask(expr);
      case 'gather':
        return this.gather(expr, true);
      case 'flow': {
        const ref = this.shared.model.refs.get(expr);
        if (ref?.is !== 'flow') throw new RangeError('No state to count');
        return { op: 'flow', which: expr.which, counter: this.shared.counters.get(ref.machine)! + ref.state };
      }
      case 'day of year':
        return { op: 'clock', which: 'day of year' };
      default:
        throw new RangeError(`An expression of the form “${expr.is}” cannot stand here`);
    }
  }

  private binary(expr: Ast.ExprOf<'binary'>): Expr {
    if (expr.op === 'and' || expr.op === 'or') return this.logical(expr.op, expr.left, expr.right);
    const left = this.lower(expr.left);
    const right = this.lower(expr.right);
    if (expr.op === '^') return this.finite({ op: 'call', fn: 'power', args: [left, right] }, expr.span, 'a power');
    if (expr.op === 'is' || expr.op === 'is not') return this.sameness(expr, left, right);
    const value = binary(expr.op, left, right);
    const divides = expr.op === '/' && !(right.op === 'number' && right.value !== 0);
    return divides ? this.finite(value, expr.span, 'a division') : value;
  }

  private sameness(expr: Ast.ExprOf<'binary'>, left: Expr, right: Expr): Expr {
    const type = this.shared.model.types.get(expr.left);
    if (type?.is !== 'agent' || left.op !== 'local' || right.op !== 'local') return binary(expr.op as BinaryFunction, left, right);
    const same: Expr = { op: 'same agent', a: { local: left.local, own: false }, b: { local: right.local, own: false } };
    return expr.op === 'is' ? same : { op: 'not', value: same };
  }

  /** The right side runs only if the left side leaves it open, so that it draws nothing and loops over nothing in vain. */
  private logical(op: 'and' | 'or', leftExpr: Ast.Expr, rightExpr: Ast.Expr): Expr {
    const left = this.lower(leftExpr);
    const right = this.code(rightExpr);
    if (right.statements.length === 0) return binary(op, left, right.value);
    const slot = this.newLocal();
    this.emit({ op: 'set', local: slot, value: left });
    const body: Statement[] = [...right.statements, { op: 'set', local: slot, value: right.value }];
    const goesOn = op === 'and' ? local(slot) : { op: 'not' as const, value: local(slot) };
    this.emit({ op: 'if', condition: goesOn, then: body, else: [] });
    return local(slot);
  }

  private oneOf(expr: Ast.ExprOf<'one of'>): Expr {
    const left = this.hold(this.lower(expr.left));
    const any = expr.options.map((option) => binary('is', left, this.lower(option))).reduce((a, b) => binary('or', a, b));
    return expr.not ? { op: 'not', value: any } : any;
  }

  private conditional(expr: Ast.ExprOf<'if'>): Expr {
    const condition = this.lower(expr.condition);
    const then = this.code(expr.then);
    const otherwise = this.code(expr.else);
    if (then.statements.length + otherwise.statements.length === 0) return { op: 'choose', condition, then: then.value, else: otherwise.value };
    const slot = this.newLocal();
    this.emit({
      op: 'if',
      condition,
      then: [...then.statements, { op: 'set', local: slot, value: then.value }],
      else: [...otherwise.statements, { op: 'set', local: slot, value: otherwise.value }],
    });
    return local(slot);
  }

  private path(expr: Ast.ExprOf<'path'>): Expr {
    const ref = this.shared.model.refs.get(expr);
    if (!ref) throw new RangeError(`“${expr.names.map((n) => n.text).join('.')}” was not resolved`);
    return this.ref(ref);
  }

  private ref(ref: Ref): Expr {
    switch (ref.is) {
      case 'parameter':
        return { op: 'parameter', index: ref.parameter.index };
      case 'variable':
        return { op: 'variable', index: ref.variable.index };
      case 'attribute':
        return { op: 'attribute', kind: ref.kind.index, column: ref.attribute.index, agent: this.agent(ref.agent) };
      case 'derive': {
        const slot = this.slotOf(ref.agent);
        let value: Expr = num(0);
        this.asSelf(ref.kind.self, slot, () => (value = this.lower(ref.derive.line.value)));
        return value;
      }
      case 'machine':
        return { op: 'state', kind: ref.kind.index, machine: ref.machine.index, agent: this.agent(ref.agent) };
      case 'builtin': {
        const kind = this.kindOfLocal(ref.agent).index;
        if (ref.which === 'number') return { op: 'number of', kind, agent: this.agent(ref.agent) };
        if (ref.which === 'place') throw new RangeError('A place is no number');
        return { op: 'position', kind, axis: ref.which, agent: this.agent(ref.agent) };
      }
      case 'field': {
        if (this.standing.ownField === ref.field.index) return { op: 'cell', field: ref.field.index };
        const { x, y } = this.here();
        return { op: 'field', field: ref.field.index, x, y };
      }
      case 'local':
        return local(this.slotOf(ref.local));
      case 'clock':
        return { op: 'clock', which: ref.which === 'step' ? 'step length' : ref.which };
      case 'measure':
        return { op: 'measure', index: ref.measure.index };
      case 'option':
        return num(ref.option);
      case 'flow':
        return { op: 'flow', which: 'entered', counter: this.shared.counters.get(ref.machine)! + ref.state };
    }
  }

  kindOfLocal(symbol: LocalSymbol): KindSymbol {
    const name = symbol.type.is === 'agent' ? symbol.type.kind : '';
    const kind = this.shared.model.kinds.find((k) => k.name === name);
    if (!kind) throw new RangeError(`“${symbol.name}” is no agent`);
    return kind;
  }

  // Places

  here(): Point {
    if (this.acting) return this.placeOf(this.acting);
    if (!this.standing.here) throw new RangeError('Nobody stands here');
    return this.standing.here;
  }

  placeOf(symbol: LocalSymbol): Point {
    const kind = this.kindOfLocal(symbol).index;
    const agent = this.agent(symbol);
    return { x: { op: 'position', kind, axis: 'x', agent }, y: { op: 'position', kind, axis: 'y', agent } };
  }

  /** A place, or the place of an agent. */
  place(expr: Ast.Expr): Point {
    switch (expr.is) {
      case 'brackets':
        return this.place(expr.value);
      case 'here':
        return this.here();
      case 'point':
        return { x: this.lower(expr.x), y: this.lower(expr.y) };
      case 'somewhere':
        return this.somewhere(expr.span);
      case 'call':
        return this.ahead(expr);
      case 'path': {
        const ref = this.shared.model.refs.get(expr);
        if (ref?.is === 'local' && ref.local.type.is === 'agent') return this.placeOf(ref.local);
        if (ref?.is === 'builtin' && ref.which === 'place') return this.placeOf(ref.agent);
        if (ref?.is === 'local') return this.heldPlaces.get(ref.local) ?? this.unheld(expr);
        return this.unheld(expr);
      }
      default:
        return this.unheld(expr);
    }
  }

  /** Places kept by `let`. */
  readonly heldPlaces = new Map<LocalSymbol, Point>();

  private unheld(expr: Ast.Expr): never {
    throw new RangeError(`An expression of the form “${expr.is}” is no place`);
  }

  somewhere(span: Span): Point {
    if (this.shared.model.space?.form === 'grid') {
      const x = this.newLocal();
      const y = this.newLocal();
      this.emit({ op: 'draw cell', x, y });
      return { x: local(x), y: local(y) };
    }
    const x = this.draw('unit', [], span);
    const y = this.draw('unit', [], span);
    return { x: binary('*', x, { op: 'size', axis: 'width' }), y: binary('*', y, { op: 'size', axis: 'height' }) };
  }

  private ahead(expr: Ast.ExprOf<'call'>): Point {
    const actor = this.acting;
    if (expr.name.key !== 'ahead' || !actor) return this.unheld(expr);
    const distance = this.hold(this.lower(expr.args[0]!.value));
    const facing: Expr = { op: 'position', kind: this.kindOfLocal(actor).index, axis: 'direction', agent: this.agent(actor) };
    const aside = expr.args[1] ? this.lower(expr.args[1].value) : undefined;
    const angle = this.hold(aside ? binary('+', facing, aside) : facing);
    return this.fromHere(distance, angle);
  }

  fromHere(distance: Expr, angle: Expr, from: Point = this.here()): Point {
    return {
      x: this.hold(binary('+', from.x, binary('*', distance, { op: 'call', fn: 'sin', args: [angle] }))),
      y: this.hold(binary('+', from.y, binary('*', distance, { op: 'call', fn: 'cos', args: [angle] }))),
    };
  }

  // Calls

  private call(expr: Ast.ExprOf<'call'>): Expr {
    const key = expr.name.key;
    if (key === 'pick') return this.pickCall(expr);
    if (key === 'distance' || key === 'bearing') {
      const places = expr.args.map((arg) => this.place(arg.value));
      const [from, to] = places.length === 1 ? [this.here(), places[0]!] : [places[0]!, places[1]!];
      return { op: key, ax: from.x, ay: from.y, bx: to.x, by: to.y };
    }
    const known = FUNCTIONS.get(key)!;
    const args = this.argumentsOf(expr, known.names).map((arg) => this.lower(arg));
    if (known.draws) return this.draw(key as Law, args, expr.span);
    if (!BUILT_FUNCTIONS.has(key)) throw new RangeError(`No function “${key}”`);
    if (key === 'min' || key === 'max') return args.reduce((a, b) => ({ op: 'call', fn: key, args: [a, b] }));
    const value: Expr = { op: 'call', fn: key as PureFunction, args };
    return MAY_LEAVE_NUMBERS.has(key) ? this.finite(value, expr.span, `“${key}”`) : value;
  }

  private argumentsOf(expr: Ast.ExprOf<'call'>, names: readonly string[]): Ast.Expr[] {
    const slots: Ast.Expr[] = [];
    expr.args.forEach((arg, i) => (slots[arg.name ? names.indexOf(arg.name.key) : i] = arg.value));
    return slots;
  }

  private pickCall(expr: Ast.ExprOf<'call'>): Expr {
    const luck = this.draw('unit', [], expr.span);
    const slot = this.newLocal();
    const n = expr.args.length;
    const shares = expr.args.map((arg, i) => (arg.share === undefined ? num((i + 1) / n) : arg.share));
    this.emitShares(luck, shares, (i) => {
      this.emit({ op: 'set', local: slot, value: this.lower(expr.args[i]!.value) });
    });
    return local(slot);
  }

  /** Chooses one of several by shares: cumulative ones as expressions, own ones as syntax; the `rest` is last. */
  emitShares(luck: Expr, shares: readonly (Ast.Expr | Expr | 'rest')[], choose: (index: number) => void): void {
    const order = [...shares.keys()].filter((i) => shares[i] !== 'rest').concat([...shares.keys()].filter((i) => shares[i] === 'rest'));
    let reached: Expr | undefined;
    const thresholds = order.map((i) => {
      const share = shares[i]!;
      if (share === 'rest') return undefined;
      if (!('is' in share)) return share;
      const own = this.lower(share);
      reached = reached === undefined ? this.hold(own) : this.hold(binary('+', reached, own));
      return reached;
    });
    const build = (position: number): void => {
      const threshold = thresholds[position];
      const isLast = position === order.length - 1;
      if (isLast || threshold === undefined) {
        choose(order[position]!);
        return;
      }
      const then = this.collect(() => choose(order[position]!));
      const otherwise = this.collect(() => build(position + 1));
      this.emit({ op: 'if', condition: binary('<', luck, threshold), then, else: otherwise });
    };
    build(0);
  }

  // Queries

  query(query: Ast.Query): Query {
    const model = this.shared.model;
    const kind = model.kindOf.get(query)!;
    const candidate = model.locals.get(query)!;
    const reach = query.reaches[0] ? this.reach(query.reaches[0]) : ({ is: 'all' } as const);
    const asker = this.acting;
    const isOwnKind = asker?.type.is === 'agent' && asker.type.kind === kind.name;
    const slot = this.slotOf(candidate);
    const where = query.where ? this.code(query.where) : undefined;
    return { kind: kind.index, reach, candidate: slot, except: isOwnKind ? this.slotOf(asker) : undefined, where };
  }

  reach(reach: Ast.Reach): Reach {
    const distance = reach.distance ? this.hold(this.lower(reach.distance)) : num(0);
    const { x, y } = reach.of ? this.place(reach.of) : this.here();
    const held = { x: this.hold(x), y: this.hold(y) };
    if (reach.is === 'here') return { is: 'here', ...held };
    if (reach.is === 'next to') return { is: 'next to', ...held };
    return { is: 'within', distance, ...held };
  }

  private ask(expr: Ast.ExprOf<'ask'>): Expr {
    const { query: q } = expr;
    if (expr.ask === 'share') {
      const fitting = this.query(q);
      const total = this.counted('count', { ...fitting, where: undefined });
      return this.finite(binary('/', this.counted('count', fitting), total), expr.span, 'a share of nobody');
    }
    const query = this.query(q);
    if (expr.ask === 'count' && query.reach.is === 'all' && !query.where) {
      const all: Expr = { op: 'count of kind', kind: query.kind };
      return query.except === undefined ? all : binary('-', all, num(1));
    }
    return this.counted(expr.ask === 'any' ? 'any' : 'count', query);
  }

  private counted(op: 'count' | 'any', query: Query): Expr {
    const slot = this.newLocal();
    this.emit({ op, local: slot, query });
    return local(slot);
  }

  gather(expr: Ast.ExprOf<'gather'>, stopsIfEmpty: boolean): Expr {
    const fn = expr.fn as Exclude<Ast.GatherFunction, 'geometric mean'>;
    const level = expr.level ? this.lower(expr.level) : undefined;
    if (!expr.over) {
      const ref = this.shared.model.refs.get(expr.of);
      if (ref?.is !== 'field') throw new RangeError('Only a field is gathered without “over”');
      return { op: 'field mean', field: ref.field.index, fn, level };
    }
    const query = this.query(expr.over);
    const value = this.code(expr.of);
    const slot = this.newLocal();
    const demands = stopsIfEmpty && this.standing.actor !== undefined && fn !== 'sum';
    const site = demands ? this.site(expr.span, `“${fn} of” nobody`) : undefined;
    this.emit({ op: 'gather', local: slot, fn, query, value, level, site });
    return local(slot);
  }
}
