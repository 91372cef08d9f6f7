import { formOf } from '../forms/forms.ts';
import type { Span } from '../diagnostics.ts';
import type { Hop, KindSymbol, LocalSymbol, NetworkSymbol, Ref, SpaceSymbol, ZoneSymbol } from '../language/checked.ts';
import { constantOf } from '../language/scales.ts';
import type * as Ast from '../language/syntax.ts';
import type { Point } from './body-lowerer.ts';
import { binary, BodyLowerer, local, num } from './body-lowerer.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type { AgentRef, Expr, Statement } from '../plan/plan.ts';

interface CellLocal {
  readonly slot: number;
  readonly raster: number;
}

/** Lowers what stands for places, agents and ties. */
export abstract class PlaceLowerer extends BodyLowerer {
  /** Places kept by `let`. */
  readonly heldPlaces = new Map<LocalSymbol, Point>();
  /** Names that stand for cells. */
  readonly cells = new Map<LocalSymbol, CellLocal>();

  /** Picks into a local, then runs `then`, else `otherwise`. */
  protected abstract pick(
    expr: Ast.ExprOf<'pick'>,
    slot: number,
    then: () => void,
    otherwise: readonly Statement[],
  ): void;

  // Agents

  /** The local that holds an agent, or nobody. */
  lowerAgent(expr: Ast.Expr): number {
    switch (expr.is) {
      case 'brackets':
        return this.lowerAgent(expr.value);
      case 'nobody': {
        const slot = this.newLocal();
        this.emit({ op: 'nobody', local: slot });
        return slot;
      }
      case 'path':
        return this.agentRef(expr);
      case 'pick': {
        const slot = this.newLocal();
        this.pick(expr, slot, () => undefined, [{ op: 'nobody', local: slot }]);
        return slot;
      }
      case 'if': {
        const slot = this.newLocal();
        const condition = this.lower(expr.condition);
        const branch = (value: Ast.Expr): Statement[] =>
          this.collect(() => this.emit({ op: 'set', local: slot, value: local(this.lowerAgent(value)) }));
        this.emit({ op: 'if', condition, then: branch(expr.then), else: branch(expr.else) });
        return slot;
      }
      case 'call': {
        const formula = this.shared.model.formulas.get(expr);
        if (formula) {
          this.bindInputs(formula.inputs, formula.values);
          return this.lowerAgent(formula.body);
        }
        throw new RangeError(`“${expr.name.text}” gives no agent`);
      }
      default:
        throw new RangeError(`An expression of the form “${expr.is}” is no agent`);
    }
  }

  private agentRef(expr: Ast.ExprOf<'path'>): number {
    this.hop(expr);
    const ref = this.shared.model.refs.get(expr);
    switch (ref?.is) {
      case 'local':
        return this.slotOf(ref.local);
      case 'attribute':
        return this.found(ref.attribute.type, {
          op: 'attribute',
          kind: ref.kind.index,
          column: this.columnOf(ref.attribute),
          agent: this.agent(ref.agent),
        });
      case 'message attribute':
        return this.found(ref.attribute.type, { op: 'message value', column: ref.attribute.index });
      case 'sender':
        return this.found({ is: 'agent', kind: ref.kind.name }, { op: 'message sender' });
      case 'tie end': {
        const slot = this.newLocal();
        this.emit({
          op: 'other end',
          local: slot,
          network: ref.network.index,
          tie: this.slotOf(ref.tie),
          from: ref.seenFrom && this.agent(ref.seenFrom),
        });
        return slot;
      }
      case 'derive': {
        let slot = 0;
        this.asSelf(ref.kind.self, this.slotOf(ref.agent), () => (slot = this.lowerAgent(ref.derive.line.value)));
        return slot;
      }
      default:
        throw new RangeError(`“${expr.names.map((n) => n.text).join('.')}” is no agent`);
    }
  }

  private found(type: { readonly is: string; readonly kind?: string }, number: Expr): number {
    const kind = this.shared.model.kinds.find((k) => k.name === type.kind)!;
    const slot = this.newLocal();
    this.emit({ op: 'find', local: slot, kind: kind.index, number });
    return slot;
  }

  /** The local that holds a tie, or none. */
  lowerTie(expr: Ast.Expr): number {
    if (expr.is === 'brackets') return this.lowerTie(expr.value);
    const slot = this.newLocal();
    if (expr.is === 'tie to') {
      const network = this.shared.model.networkOf.get(expr)!;
      const b = this.agentIn(this.lowerAgent(expr.other));
      this.emit({
        op: 'find tie',
        local: slot,
        network: network.index,
        a: this.asker(network),
        b,
        flip: this.isFlipped(network),
      });
    } else if (expr.is === 'pick') this.pick(expr, slot, () => undefined, [{ op: 'nobody', local: slot }]);
    else if (expr.is === 'nobody') this.emit({ op: 'nobody', local: slot });
    else {
      const ref = this.shared.model.refs.get(expr);
      if (ref?.is === 'local') return this.slotOf(ref.local);
      throw new RangeError(`An expression of the form “${expr.is}” is no tie`);
    }
    return slot;
  }

  /** Whether an agent, or without one the asker, stands on the second side of a network between two kinds. */
  protected isFlipped(network: NetworkSymbol, agent?: Ast.Expr): boolean {
    if (network.from === network.to) return false;
    const type = agent ? this.shared.model.types.get(agent) : (this.acting ?? this.standing.actor)?.type;
    return type?.is === 'agent' && type.kind !== network.from.name;
  }

  /** The acting agent, or the first role of an interaction. */
  protected asker(network?: NetworkSymbol): AgentRef {
    const symbol = this.acting ?? this.standing.actor;
    if (!symbol) throw new RangeError(`Nobody asks${network ? ` ${network.name}` : ''}`);
    return this.agent(symbol);
  }

  /** Finds what stands before the last dot of a path, so that its last name can be read of it. */
  protected hop(expr: Ast.Expr): void {
    const hop: Hop | undefined = this.shared.model.hops.get(expr);
    if (!hop) return;
    const slot = this.lowerAgent(hop.from);
    this.emit({ op: 'demand', local: slot, site: this.site(hop.from.span, 'the agent asked for') });
    this.slots.set(hop.local, slot);
  }

  /** The inputs of a formula or routine as locals of their own. */
  protected bindInputs(inputs: readonly LocalSymbol[], values: readonly Ast.Expr[]): void {
    inputs.forEach((input, i) => {
      const value = values[i]!;
      if (input.type.is === 'place') this.heldPlaces.set(input, this.heldPlace(this.place(value)));
      else if (input.type.is === 'agent') this.slots.set(input, this.lowerAgent(value));
      else if (input.type.is === 'tie') this.slots.set(input, this.lowerTie(value));
      else {
        const slot = this.newLocal();
        this.emit({ op: 'set', local: slot, value: this.lower(value) });
        this.slots.set(input, slot);
      }
    });
  }

  // Places

  here(): Point {
    if (this.acting) return this.placeOf(this.acting);
    if (!this.standing.here) throw new RangeError('Nobody stands here');
    return this.standing.here;
  }

  placeOf(symbol: LocalSymbol): Point {
    return this.placeOfAgent(this.kindOfLocal(symbol), this.agent(symbol));
  }

  protected placeOfAgent(kind: KindSymbol, agent: AgentRef): Point {
    return {
      x: { op: 'position', kind: kind.index, axis: 'x', agent },
      y: { op: 'position', kind: kind.index, axis: 'y', agent },
    };
  }

  protected heldPlace({ x, y }: Point): Point {
    const copy = (value: Expr): Expr =>
      value.op === 'position' || value.op === 'attribute' ? binary('+', value, num(0)) : value;
    return { x: this.hold(copy(x)), y: this.hold(copy(y)) };
  }

  protected cellPlace({ slot, raster }: CellLocal): Point {
    return { x: { op: 'cell x', raster, cell: local(slot) }, y: { op: 'cell y', raster, cell: local(slot) } };
  }

  /** A place, or the place of an agent. */
  place(expr: Ast.Expr): Point {
    const type = this.shared.model.types.get(expr);
    if (type?.is === 'agent') {
      const kind = this.shared.model.kinds.find((k) => k.name === type.kind)!;
      return this.placeOfAgent(kind, this.agentIn(this.lowerAgent(expr)));
    }
    switch (expr.is) {
      case 'brackets':
        return this.place(expr.value);
      case 'here':
        return this.here();
      case 'nowhere':
        return { x: num(NaN), y: num(NaN) };
      case 'point':
        return { x: this.lower(expr.x), y: this.lower(expr.y) };
      case 'somewhere': {
        const zone = this.shared.model.zoneOf.get(expr);
        return zone ? this.inZone(zone, expr.span) : this.somewhere(this.shared.model.spaceOf.get(expr)!, expr.span);
      }
      case 'call':
        return this.placeCall(expr);
      case 'path':
        return this.placeRef(expr);
      case 'if':
        return this.placeChoice(expr);
      case 'gather':
        return this.centre(expr);
      case 'pick':
        return this.placePicked(expr);
      default:
        return this.unheld(expr);
    }
  }

  protected abstract centre(expr: Ast.ExprOf<'gather'>): Point;

  private placeRef(expr: Ast.ExprOf<'path'>): Point {
    this.hop(expr);
    const ref: Ref | undefined = this.shared.model.refs.get(expr);
    switch (ref?.is) {
      case 'local': {
        const cell = this.cells.get(ref.local);
        if (cell) return this.cellPlace(cell);
        return this.heldPlaces.get(ref.local) ?? this.unheld(expr);
      }
      case 'builtin':
        return this.placeOf(ref.agent);
      case 'coordinate':
        return this.place(ref.of);
      case 'attribute': {
        const column = this.columnOf(ref.attribute);
        const at = (shift: number): Expr => ({
          op: 'attribute',
          kind: ref.kind.index,
          column: column + shift,
          agent: this.agent(ref.agent),
        });
        return { x: at(0), y: at(1) };
      }
      case 'derive': {
        let place: Point = { x: num(0), y: num(0) };
        this.asSelf(ref.kind.self, this.slotOf(ref.agent), () => (place = this.place(ref.derive.line.value)));
        return place;
      }
      default:
        return this.unheld(expr);
    }
  }

  private placeChoice(expr: Ast.ExprOf<'if'>): Point {
    const x = this.newLocal();
    const y = this.newLocal();
    const condition = this.lower(expr.condition);
    const branch = (value: Ast.Expr): Statement[] =>
      this.collect(() => {
        const place = this.place(value);
        this.emit({ op: 'set', local: x, value: place.x });
        this.emit({ op: 'set', local: y, value: place.y });
      });
    this.emit({ op: 'if', condition, then: branch(expr.then), else: branch(expr.else) });
    return { x: local(x), y: local(y) };
  }

  /** The place of a picked cell or item of a list; nowhere if there is none. */
  private placePicked(expr: Ast.ExprOf<'pick'>): Point {
    const x = this.newLocal();
    const y = this.newLocal();
    const slot = this.newLocal();
    const set = (place: Point): void => {
      this.emit({ op: 'set', local: x, value: place.x });
      this.emit({ op: 'set', local: y, value: place.y });
    };
    this.pick(expr, slot, () => set(this.pickedPlace(expr, slot)), [
      { op: 'set', local: x, value: num(NaN) },
      { op: 'set', local: y, value: num(NaN) },
    ]);
    return { x: local(x), y: local(y) };
  }

  /** The place of what a picker of cells, agents or places has put into a local. */
  protected pickedPlace(expr: Ast.ExprOf<'pick'>, slot: number): Point {
    const head = this.shared.model.queryHeads.get(expr.query)!;
    if (head.is === 'agents') return this.placeOfAgent(head.kind, this.agentIn(slot));
    if (head.is === 'cells') return this.cellPlace({ slot, raster: this.rasterOf(head) });
    if (head.is !== 'list') return this.unheld(expr);
    if (head.attribute.type.is === 'list' && head.attribute.type.of === 'agents') {
      const { kind } = head.attribute.type;
      return this.placeOfAgent(
        this.shared.model.kinds.find((k) => k.name === kind)!,
        this.agentIn(slot),
      );
    }
    return this.listPlace(head.kind, this.columnOf(head.attribute), this.agent(head.agent), slot);
  }

  protected listPlace(kind: KindSymbol, column: number, agent: AgentRef, slot: number): Point {
    const item = (part: number): Expr => ({
      op: 'list item',
      kind: kind.index,
      column,
      stride: 2,
      part,
      agent,
      index: local(slot),
    });
    return { x: item(0), y: item(1) };
  }

  /** Cells of a grid are the same for the space and all its fields. */
  protected rasterOf({
    space,
    field,
  }: {
    readonly space: SpaceSymbol;
    readonly field?: { readonly index: number };
  }): number {
    return field && !formOf(space).isOfCells ? field.index : rasterOfSpace(space.index);
  }

  protected unheld(expr: Ast.Expr): never {
    throw new RangeError(`An expression of the form “${expr.is}” is no place`);
  }

  somewhere(on: SpaceSymbol, span: Span): Point {
    const space = on.index;
    if (formOf(on).isOfCells) {
      const x = this.newLocal();
      const y = this.newLocal();
      this.emit({ op: 'draw cell', space, x, y });
      return { x: local(x), y: local(y) };
    }
    if (this.shared.model.zones.some((zone) => zone.part.is === 'obstacle' && zone.space === on))
      return this.inMask(space, -1, span);
    const x = this.draw('unit', [], span);
    const y = this.draw('unit', [], span);
    return {
      x: binary('*', x, { op: 'size', space, axis: 'width' }),
      y: binary('*', y, { op: 'size', space, axis: 'height' }),
    };
  }

  inZone(zone: ZoneSymbol, span: Span): Point {
    return this.inMask(zone.space!.index, zone.index, span);
  }

  private inMask(space: number, zone: number, span: Span): Point {
    const x = this.newLocal();
    const y = this.newLocal();
    this.emit({ op: 'draw in zone', space, zone, x, y, site: this.site(span, 'a place in the zone') });
    return { x: local(x), y: local(y) };
  }

  private placeCall(expr: Ast.ExprOf<'call'>): Point {
    const formula = this.shared.model.formulas.get(expr);
    if (formula) {
      this.bindInputs(formula.inputs, formula.values);
      return this.place(formula.body);
    }
    const actor = this.acting ?? this.standing.actor;
    if (expr.name.key !== 'ahead' || !actor) return this.unheld(expr);
    const distance = this.hold(this.lower(expr.args[0]!.value));
    const shift = expr.args[1] ? constantOf(expr.args[1].value, this.shared.model.scales)?.value : 0;
    const space = this.spaceOfLocal(actor);
    if (shift !== undefined && formOf(space).isStraight) return this.straightAhead(actor, distance, shift);
    const facing: Expr = {
      op: 'position',
      kind: this.kindOfLocal(actor).index,
      axis: 'direction',
      agent: this.agent(actor),
    };
    const aside = expr.args[1] ? this.lower(expr.args[1].value) : undefined;
    const angle = this.hold(aside ? binary('+', facing, aside) : facing);
    return this.fromHere(space.index, distance, angle, this.placeOf(actor));
  }

  /** Ahead by a fixed angle to the side: no sine is needed beyond those of the direction, which agents keep. */
  private straightAhead(actor: LocalSymbol, distance: Expr, aside: number): Point {
    const { x, y } = this.placeOf(actor);
    const at = (axis: 'x' | 'y'): Expr => ({
      op: 'ahead',
      axis,
      x,
      y,
      distance,
      kind: this.kindOfLocal(actor).index,
      agent: this.agent(actor),
      aside,
    });
    return { x: this.hold(at('x')), y: this.hold(at('y')) };
  }

  protected spaceOfLocal(agent: LocalSymbol): SpaceSymbol {
    return this.kindOfLocal(agent).space!;
  }

  fromHere(space: number, distance: Expr, angle: Expr, from: Point): Point {
    const along = (axis: 'x' | 'y'): Expr => ({ op: 'along', space, axis, x: from.x, y: from.y, distance, angle });
    return { x: this.hold(along('x')), y: this.hold(along('y')) };
  }
}
