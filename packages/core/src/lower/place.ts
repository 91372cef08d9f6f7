import type { Span } from '../diagnostics.ts';
import { formOf } from '../forms/forms.ts';
import type {
  Expansion,
  Hop,
  KindSymbol,
  LocalSymbol,
  NetworkSymbol,
  Ref,
  RidingSymbol,
  SpaceSymbol,
  ZoneSymbol,
} from '../language/checked.ts';
import { constantOf } from '../language/scales.ts';
import type * as Ast from '../language/syntax.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type { AgentRef, Expr, Query, Statement } from '../plan/plan.ts';
import { binary, local, num } from './code.ts';
import type { CellLocal, Draft, Point } from './draft.ts';
import { countedPlace, inCells } from './lengths.ts';

// Agents

/** The local that holds an agent, or nobody. */
export function lowerAgent(draft: Draft, expr: Ast.Expr): number {
  switch (expr.is) {
    case 'brackets':
      return lowerAgent(draft, expr.value);
    case 'nobody': {
      const slot = draft.newLocal();
      draft.emit({ op: 'nobody', local: slot });
      return slot;
    }
    case 'path':
      return agentRef(draft, expr);
    case 'pick': {
      const slot = draft.newLocal();
      draft.pick(expr, slot, () => undefined, [{ op: 'nobody', local: slot }]);
      return slot;
    }
    case 'if': {
      const slot = draft.newLocal();
      const condition = draft.lower(expr.condition);
      const branch = (value: Ast.Expr): Statement[] =>
        draft.collect(() => draft.emit({ op: 'set', local: slot, value: local(lowerAgent(draft, value)) }));
      draft.emit({ op: 'if', condition, then: branch(expr.then), else: branch(expr.else) });
      return slot;
    }
    case 'call': {
      const formula = draft.shared.model.formulas.get(expr);
      if (formula) return inFormula(draft, expr, formula, (body) => lowerAgent(draft, body));
      throw new RangeError(`“${expr.name.text}” gives no agent`);
    }
    default:
      throw new RangeError(`An expression of the form “${expr.is}” is no agent`);
  }
}

function agentRef(draft: Draft, expr: Ast.ExprOf<'path'>): number {
  hop(draft, expr);
  const ref = draft.shared.model.refs.get(expr);
  switch (ref?.is) {
    case 'local':
      return draft.slotOf(ref.local);
    case 'attribute':
      return foundAgent(draft, ref.attribute.type, {
        op: 'attribute',
        kind: ref.kind.index,
        column: draft.columnOf(ref.attribute),
        agent: draft.agent(ref.agent),
      });
    case 'vehicle':
      return vehicleSlot(draft, ref.riding, draft.agent(ref.agent));
    case 'message attribute':
      return foundAgent(draft, ref.attribute.type, { op: 'message value', column: ref.attribute.index });
    case 'sender':
      return foundAgent(draft, { is: 'agent', kind: ref.kind.name }, { op: 'message sender' });
    case 'tie end': {
      const slot = draft.newLocal();
      draft.emit({
        op: 'other end',
        local: slot,
        network: ref.network.index,
        tie: draft.slotOf(ref.tie),
        from: ref.seenFrom && draft.agent(ref.seenFrom),
      });
      return slot;
    }
    case 'derive':
    case 'model derive':
      return inDerived(draft, ref, (value) => lowerAgent(draft, value));
    default:
      throw new RangeError(`“${expr.names.map((n) => n.text).join('.')}” is no agent`);
  }
}

/** A local with the vehicle that an agent rides in, or nobody. */
export function vehicleSlot(draft: Draft, riding: RidingSymbol, rider: AgentRef): number {
  const slot = draft.newLocal();
  const query: Query = {
    over: { is: 'agents' },
    kind: riding.to.index,
    reach: { is: 'tied', network: riding.index, side: 0, agent: rider },
    candidate: draft.newLocal(),
  };
  const site = draft.site(riding.span, 'the vehicle');
  draft.emit({
    op: 'pick',
    local: slot,
    how: 'first',
    query,
    found: [],
    nobody: [{ op: 'nobody', local: slot }],
    site,
  });
  return slot;
}

function foundAgent(draft: Draft, type: { readonly is: string; readonly kind?: string }, number: Expr): number {
  const kind = draft.shared.model.kinds.find((k) => k.name === type.kind)!;
  const slot = draft.newLocal();
  draft.emit({ op: 'find', local: slot, kind: kind.index, number });
  return slot;
}

/** The local that holds a tie, or none. */
export function lowerTie(draft: Draft, expr: Ast.Expr): number {
  if (expr.is === 'brackets') return lowerTie(draft, expr.value);
  const slot = draft.newLocal();
  if (expr.is === 'tie to') {
    const network = draft.shared.model.networkOf.get(expr)!;
    const b = draft.agentIn(lowerAgent(draft, expr.other));
    draft.emit({
      op: 'find tie',
      local: slot,
      network: network.index,
      a: whoAsks(draft, network),
      b,
      flip: isFlipped(draft, network),
    });
  } else if (expr.is === 'pick') draft.pick(expr, slot, () => undefined, [{ op: 'nobody', local: slot }]);
  else if (expr.is === 'nobody') draft.emit({ op: 'nobody', local: slot });
  else {
    const ref = draft.shared.model.refs.get(expr);
    if (ref?.is === 'local') return draft.slotOf(ref.local);
    throw new RangeError(`An expression of the form “${expr.is}” is no tie`);
  }
  return slot;
}

/** Whether an agent, or without one the asker, stands on the second side of a network between two kinds. */
export function isFlipped(draft: Draft, network: NetworkSymbol, agent?: Ast.Expr): boolean {
  if (network.from === network.to) return false;
  const type = agent ? draft.shared.model.types.get(agent) : draft.asker?.type;
  return type?.is === 'agent' && type.kind !== network.from.name;
}

/** The acting agent, or the first role of an interaction. */
export function whoAsks(draft: Draft, network?: NetworkSymbol): AgentRef {
  const symbol = draft.asker;
  if (!symbol) throw new RangeError(`Nobody asks${network ? ` ${network.name}` : ''}`);
  return draft.agent(symbol);
}

/** Finds what stands before the last dot of a path, so that its last name can be read of it. */
export function hop(draft: Draft, expr: Ast.Expr): void {
  const hop: Hop | undefined = draft.shared.model.hops.get(expr);
  if (!hop) return;
  const slot = lowerAgent(draft, hop.from);
  draft.emit({ op: 'demand', local: slot, site: draft.site(hop.from.span, 'the agent asked for') });
  draft.slots.set(hop.local, slot);
}

/** The inputs of a formula or routine as locals of their own. */
/** Reads what is derived: as the agent that it is of, or as nobody where it is of the whole model. */
export function inDerived<T>(
  draft: Draft,
  ref: Extract<Ref, { is: 'derive' | 'model derive' }>,
  read: (value: Ast.Expr) => T,
): T {
  let found: T | undefined;
  const build = (): void => void (found = read(ref.derive.line.value));
  if (ref.is === 'derive') draft.asSelf(ref.kind.self, draft.slotOf(ref.agent), build);
  else draft.asNobody(build);
  return found!;
}

/** Reads a formula with what it is given: as the asker, or as the agent named before the dot. */
export function inFormula<T>(
  draft: Draft,
  call: Ast.ExprOf<'call'>,
  { inputs, values, body }: Expansion<Ast.Expr>,
  read: (body: Ast.Expr) => T,
): T {
  bindInputs(draft, inputs, values);
  if (!call.of) return read(body);
  const slot = lowerAgent(draft, call.of);
  draft.emit({ op: 'demand', local: slot, site: draft.site(call.of.span, 'the agent asked for') });
  let found: T | undefined;
  draft.asSelf(draft.shared.model.kindOf.get(call)!.self, slot, () => (found = read(body)));
  return found!;
}

export function bindInputs(draft: Draft, inputs: readonly LocalSymbol[], values: readonly Ast.Expr[]): void {
  inputs.forEach((input, i) => {
    const value = values[i]!;
    if (input.type.is === 'place') draft.heldPlaces.set(input, heldPlace(draft, lowerPlace(draft, value)));
    else if (input.type.is === 'agent') draft.slots.set(input, lowerAgent(draft, value));
    else if (input.type.is === 'tie') draft.slots.set(input, lowerTie(draft, value));
    else {
      const slot = draft.newLocal();
      draft.emit({ op: 'set', local: slot, value: draft.lower(value) });
      draft.slots.set(input, slot);
    }
  });
}

// Places

export function placeHere(draft: Draft): Point {
  if (draft.acting) return placeOfLocal(draft, draft.acting);
  if (!draft.here) throw new RangeError('Nobody stands here');
  return draft.here;
}

export function placeOfLocal(draft: Draft, symbol: LocalSymbol): Point {
  return placeOfAgent(draft.kindOfLocal(symbol), draft.agent(symbol));
}

export function placeOfAgent(kind: KindSymbol, agent: AgentRef): Point {
  return {
    x: { op: 'position', kind: kind.index, axis: 'x', agent },
    y: { op: 'position', kind: kind.index, axis: 'y', agent },
  };
}

export function heldPlace(draft: Draft, { x, y }: Point): Point {
  const copy = (value: Expr): Expr =>
    value.op === 'position' || value.op === 'attribute' ? binary('+', value, num(0)) : value;
  return { x: draft.hold(copy(x)), y: draft.hold(copy(y)) };
}

export function cellPlace({ slot, raster }: CellLocal): Point {
  return { x: { op: 'cell x', raster, cell: local(slot) }, y: { op: 'cell y', raster, cell: local(slot) } };
}

/** A place, or the place of an agent. */
export function lowerPlace(draft: Draft, expr: Ast.Expr): Point {
  const type = draft.shared.model.types.get(expr);
  if (type?.is === 'agent') {
    const kind = draft.shared.model.kinds.find((k) => k.name === type.kind)!;
    return placeOfAgent(kind, draft.agentIn(lowerAgent(draft, expr)));
  }
  switch (expr.is) {
    case 'brackets':
      return lowerPlace(draft, expr.value);
    case 'here':
      return placeHere(draft);
    case 'nowhere':
      return { x: num(NaN), y: num(NaN) };
    case 'point':
      return countedPlace(draft.shared.model.spaceOf.get(expr)!, { x: draft.lower(expr.x), y: draft.lower(expr.y) });
    case 'named place': {
      const { x, y } = draft.shared.model.namedPlaces.get(expr)!;
      return { x: num(x), y: num(y) };
    }
    case 'somewhere': {
      const zone = draft.shared.model.zoneOf.get(expr);
      return zone ? inZone(draft, zone, expr.span) : somewhere(draft, draft.shared.model.spaceOf.get(expr)!, expr.span);
    }
    case 'call':
      return placeCall(draft, expr);
    case 'path':
      return placeRef(draft, expr);
    case 'if':
      return placeChoice(draft, expr);
    case 'gather':
      return draft.centre(expr);
    case 'pick':
      return placePicked(draft, expr);
    default:
      return unheld(expr);
  }
}

function placeRef(draft: Draft, expr: Ast.ExprOf<'path'>): Point {
  hop(draft, expr);
  const ref: Ref | undefined = draft.shared.model.refs.get(expr);
  switch (ref?.is) {
    case 'local': {
      const cell = draft.cells.get(ref.local);
      if (cell) return cellPlace(cell);
      return draft.heldPlaces.get(ref.local) ?? unheld(expr);
    }
    case 'builtin':
      return placeOfLocal(draft, ref.agent);
    case 'coordinate':
      return lowerPlace(draft, ref.of);
    case 'attribute': {
      const column = draft.columnOf(ref.attribute);
      const at = (shift: number): Expr => ({
        op: 'attribute',
        kind: ref.kind.index,
        column: column + shift,
        agent: draft.agent(ref.agent),
      });
      return { x: at(0), y: at(1) };
    }
    case 'derive':
    case 'model derive':
      return inDerived(draft, ref, (value) => lowerPlace(draft, value));
    default:
      return unheld(expr);
  }
}

function placeChoice(draft: Draft, expr: Ast.ExprOf<'if'>): Point {
  const x = draft.newLocal();
  const y = draft.newLocal();
  const condition = draft.lower(expr.condition);
  const branch = (value: Ast.Expr): Statement[] =>
    draft.collect(() => {
      const place = lowerPlace(draft, value);
      draft.emit({ op: 'set', local: x, value: place.x });
      draft.emit({ op: 'set', local: y, value: place.y });
    });
  draft.emit({ op: 'if', condition, then: branch(expr.then), else: branch(expr.else) });
  return { x: local(x), y: local(y) };
}

/** The place of a picked cell or item of a list; nowhere if there is none. */
function placePicked(draft: Draft, expr: Ast.ExprOf<'pick'>): Point {
  const x = draft.newLocal();
  const y = draft.newLocal();
  const slot = draft.newLocal();
  const set = (place: Point): void => {
    draft.emit({ op: 'set', local: x, value: place.x });
    draft.emit({ op: 'set', local: y, value: place.y });
  };
  draft.pick(expr, slot, () => set(pickedPlace(draft, expr, slot)), [
    { op: 'set', local: x, value: num(NaN) },
    { op: 'set', local: y, value: num(NaN) },
  ]);
  return { x: local(x), y: local(y) };
}

/** The place of what a picker of cells, agents or places has put into a local. */
export function pickedPlace(draft: Draft, expr: Ast.ExprOf<'pick'>, slot: number): Point {
  const head = draft.shared.model.queryHeads.get(expr.query)!;
  if (head.is === 'agents') return placeOfAgent(head.kind, draft.agentIn(slot));
  if (head.is === 'cells') return cellPlace({ slot, raster: rasterOf(head) });
  if (head.is !== 'list') return unheld(expr);
  if (head.attribute.type.is === 'list' && head.attribute.type.of === 'agents') {
    const { kind } = head.attribute.type;
    return placeOfAgent(
      draft.shared.model.kinds.find((k) => k.name === kind)!,
      draft.agentIn(slot),
    );
  }
  return listPlace(head.kind, draft.columnOf(head.attribute), draft.agent(head.agent), slot);
}

export function listPlace(kind: KindSymbol, column: number, agent: AgentRef, slot: number): Point {
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
export function rasterOf({
  space,
  field,
}: {
  readonly space: SpaceSymbol;
  readonly field?: { readonly index: number };
}): number {
  return field && !formOf(space).isOfCells ? field.index : rasterOfSpace(space.index);
}

function unheld(expr: Ast.Expr): never {
  throw new RangeError(`An expression of the form “${expr.is}” is no place`);
}

export function somewhere(draft: Draft, on: SpaceSymbol, span: Span): Point {
  const space = on.index;
  if (formOf(on).isOfCells) {
    const x = draft.newLocal();
    const y = draft.newLocal();
    draft.emit({ op: 'draw cell', space, x, y });
    return { x: local(x), y: local(y) };
  }
  if (formOf(on).isOnLanes) {
    const share = draft.draw('unit', [], span);
    const at = (axis: 'x' | 'y'): Expr => ({ op: 'lane at', space, axis, share });
    return { x: draft.hold(at('x')), y: draft.hold(at('y')) };
  }
  if (draft.shared.model.zones.some((zone) => zone.part.is === 'obstacle' && zone.space === on))
    return inMask(draft, space, -1, span);
  const x = draft.draw('unit', [], span);
  const y = draft.draw('unit', [], span);
  return {
    x: binary('*', x, { op: 'size', space, axis: 'width' }),
    y: binary('*', y, { op: 'size', space, axis: 'height' }),
  };
}

export function inZone(draft: Draft, zone: ZoneSymbol, span: Span): Point {
  return inMask(draft, zone.space!.index, zone.index, span);
}

function inMask(draft: Draft, space: number, zone: number, span: Span): Point {
  const x = draft.newLocal();
  const y = draft.newLocal();
  draft.emit({ op: 'draw in zone', space, zone, x, y, site: draft.site(span, 'a place in the zone') });
  return { x: local(x), y: local(y) };
}

function placeCall(draft: Draft, expr: Ast.ExprOf<'call'>): Point {
  const formula = draft.shared.model.formulas.get(expr);
  if (formula) return inFormula(draft, expr, formula, (body) => lowerPlace(draft, body));
  const actor = draft.asker;
  if (expr.name.key !== 'ahead' || !actor) return unheld(expr);
  const space = spaceOfLocal(draft, actor);
  const distance = draft.hold(inCells(space, draft.lower(expr.args[0]!.value)));
  const shift = expr.args[1] ? constantOf(expr.args[1].value, draft.shared.model.scales)?.value : 0;
  if (shift !== undefined && formOf(space).isStraight) return straightAhead(draft, actor, distance, shift);
  const facing: Expr = {
    op: 'position',
    kind: draft.kindOfLocal(actor).index,
    axis: 'direction',
    agent: draft.agent(actor),
  };
  const aside = expr.args[1] ? draft.lower(expr.args[1].value) : undefined;
  const angle = draft.hold(aside ? binary('+', facing, aside) : facing);
  return fromHere(draft, space.index, distance, angle, placeOfLocal(draft, actor));
}

/** Ahead by a fixed angle to the side: no sine is needed beyond those of the direction, which agents keep. */
function straightAhead(draft: Draft, actor: LocalSymbol, distance: Expr, aside: number): Point {
  const { x, y } = placeOfLocal(draft, actor);
  const at = (axis: 'x' | 'y'): Expr => ({
    op: 'ahead',
    axis,
    x,
    y,
    distance,
    kind: draft.kindOfLocal(actor).index,
    agent: draft.agent(actor),
    aside,
  });
  return { x: draft.hold(at('x')), y: draft.hold(at('y')) };
}

function spaceOfLocal(draft: Draft, agent: LocalSymbol): SpaceSymbol {
  return draft.kindOfLocal(agent).space!;
}

export function fromHere(draft: Draft, space: number, distance: Expr, angle: Expr, from: Point): Point {
  const along = (axis: 'x' | 'y'): Expr => ({ op: 'along', space, axis, x: from.x, y: from.y, distance, angle });
  return { x: draft.hold(along('x')), y: draft.hold(along('y')) };
}
