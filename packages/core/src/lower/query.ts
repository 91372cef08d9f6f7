import { formOf } from '../forms/forms.ts';
import type { KindSymbol, LocalSymbol, NetworkSymbol, QueryHead, SpaceSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Code, Expr, Query, Reach, SpaceReach, Statement } from '../plan/plan.ts';
import { binary, local, num, times } from './code.ts';
import type { Draft, Point } from './draft.ts';
import {
  whoAsks,
  cellPlace,
  heldPlace,
  listPlace,
  lowerAgent,
  lowerPlace,
  placeHere,
  placeOfAgent,
  rasterOf,
  vehicleSlot,
} from './place.ts';
import { reachInCells } from './lengths.ts';
import { shownFactor } from './shown-factor.ts';

export function lowerQuery(draft: Draft, query: Ast.Query): Query {
  const head = draft.shared.model.queryHeads.get(query)!;
  const candidate = draft.shared.model.locals.get(query)!;
  const slot = bindCandidate(draft, head, candidate);
  const [first, ...others] = inOrder(query.reaches, head);
  const kind = kindAsked(draft, head, candidate);
  const reach: Reach = first ? lowerReach(draft, first, kind) : { is: 'all' };
  const conditions = others.map(
    (other) =>
      (at: Point): Expr =>
        isInReach(draft, other, kind, slot, at),
  );
  if (first?.is === 'zone') conditions.unshift((at) => isInReach(draft, first, kind, slot, at));
  for (const other of query.reaches) if (other.along) conditions.push((at) => nearAlong(draft, other, at));
  const asker = draft.asker;
  const isOwnKind =
    kind !== undefined && asker !== undefined && asker.type.is === 'agent' && asker.type.kind === kind.name;
  const excepted =
    head.is === 'agents' ? [...(isOwnKind ? [draft.slotOf(asker)] : []), ...centresOf(draft, query, kind)] : [];
  const [except, ...more] = [...new Set(excepted)];
  for (const other of more)
    conditions.push(() => ({
      op: 'not',
      value: { op: 'same agent', a: { local: slot, own: false }, b: draft.agentIn(other) },
    }));
  const where = whereCode(draft, query.where, conditions, kind, head, slot);
  return { over: askedOver(draft, head), kind: kind?.index ?? -1, reach, candidate: slot, except, where };
}

/** Those of the kind round whom a reach in space is asked (`within 5 of it`): they are not among those near them. */
function centresOf(draft: Draft, query: Ast.Query, kind: KindSymbol | undefined): number[] {
  return query.reaches.flatMap((reach) => {
    if (isByTies(reach) || reach.is === 'zone' || reach.is === 'anyone' || !reach.of) return [];
    return kind && kindOfExpr(draft, reach.of) === kind ? [lowerAgent(draft, reach.of)] : [];
  });
}

/** Ties are the shortest list to go through; what is nowhere or in a zone is a condition, and on a plane with cells a distance is, as it needs no columns and rows. */
function inOrder(reaches: readonly Ast.Reach[], head: QueryHead): Ast.Reach[] {
  const byCells = head.is === 'cells' && !formOf(head.space).isOfCells;
  const weight = (reach: Ast.Reach): number =>
    isByTies(reach) ? 0 : reach.is === 'zone' ? 3 : byCells && reach.is === 'within' ? 2 : 1;
  return [...reaches].sort((a, b) => weight(a) - weight(b));
}

function isByTies({ is }: Ast.Reach): boolean {
  return is === 'tied' || is === 'aboard' || is === 'carrying';
}

function kindAsked(draft: Draft, head: QueryHead, candidate: LocalSymbol): KindSymbol | undefined {
  if (head.is === 'agents') return head.kind;
  return head.is === 'list' && candidate.type.is === 'agent' ? draft.kindOfLocal(candidate) : undefined;
}

function bindCandidate(draft: Draft, head: QueryHead, candidate: LocalSymbol): number {
  const slot = draft.slotOf(candidate);
  if (head.is === 'cells') draft.cells.set(candidate, { slot, raster: rasterOf(head) });
  else if (head.is === 'list' && head.attribute.type.is === 'list')
    bindItem(draft, head, head.attribute.type.of, candidate, slot);
  else if (head.is === 'tally')
    draft.items.set(candidate, { op: 'tally item', tally: head.tally.index, index: local(slot) });
  return slot;
}

function bindItem(
  draft: Draft,
  head: Extract<QueryHead, { is: 'list' }>,
  of: 'agents' | 'numbers' | 'places',
  candidate: LocalSymbol,
  slot: number,
): void {
  const column = draft.columnOf(head.attribute);
  const agent = draft.agent(head.agent);
  if (of === 'places') draft.heldPlaces.set(candidate, listPlace(head.kind, column, agent, slot));
  else if (of === 'numbers')
    draft.items.set(candidate, {
      op: 'list item',
      kind: head.kind.index,
      column,
      stride: 1,
      part: 0,
      agent,
      index: local(slot),
    });
}

function askedOver(draft: Draft, head: QueryHead): Query['over'] {
  switch (head.is) {
    case 'agents':
      return { is: 'agents' };
    case 'cells':
      return { is: 'cells', raster: rasterOf(head), empty: head.empty };
    case 'ties': {
      const asker = draft.asker;
      const kind = asker?.type.is === 'agent' ? draft.kindOfLocal(asker) : undefined;
      const isEnd = kind === head.network.from || kind === head.network.to;
      return {
        is: 'ties',
        network: head.network.index,
        side: kind && isEnd ? sideOf(head.network, kind) : 0,
        agent: isEnd ? draft.agent(asker!) : undefined,
      };
    }
    case 'list': {
      const { type } = head.attribute;
      return {
        is: 'list',
        ofAgents: type.is === 'list' && type.of === 'agents',
        owner: head.kind.index,
        column: draft.columnOf(head.attribute),
        agent: draft.agent(head.agent),
      };
    }
    case 'tally':
      return { is: 'tally', tally: head.tally.index };
  }
}

function whereCode(
  draft: Draft,
  where: Ast.Expr | undefined,
  conditions: readonly ((at: Point) => Expr)[],
  kind: KindSymbol | undefined,
  head: QueryHead,
  slot: number,
): Code | undefined {
  if (!where && conditions.length === 0) return undefined;
  let value: Expr = num(1);
  const statements = draft.collect(() => {
    const at = kind
      ? placeOfAgent(kind, { local: slot, own: false })
      : head.is === 'cells'
        ? cellPlace({ slot, raster: rasterOf(head) })
        : { x: num(0), y: num(0) };
    conditions.forEach((condition, i) => (value = i === 0 ? condition(at) : binary('and', value, condition(at))));
    if (!where) return;
    value = value.op === 'number' ? draft.lower(where) : draft.andThen(value, () => draft.lower(where));
  });
  return { statements, value };
}

/** Of `within D along the lanes`: whether the way to a place is no longer. */
export function nearAlong(draft: Draft, reach: Ast.Reach, to: Point): Expr {
  const { x, y, distance, space } = spaceReach(draft, reach);
  const asker = draft.asker;
  const facing: Expr | undefined =
    reach.along === 'ahead' && asker
      ? { op: 'position', kind: draft.kindOfLocal(asker).index, axis: 'direction', agent: draft.agent(asker) }
      : undefined;
  return { op: 'near along', space, x, y, facing, most: distance, toX: to.x, toY: to.y };
}

/** A further reach as a condition on the candidate. */
function isInReach(draft: Draft, reach: Ast.Reach, kind: KindSymbol | undefined, slot: number, at: Point): Expr {
  if (reach.is === 'zone') return { op: 'in zone', zone: draft.shared.model.zoneOf.get(reach)!.index, ...at };
  if (reach.is === 'anyone') return num(1);
  if (isByTies(reach)) {
    const { network, side, agent } = tiedReach(draft, reach, kind);
    return { op: 'tied', network, side, a: agent, b: { local: slot, own: false } };
  }
  return { op: 'in reach', reach: spaceReach(draft, reach), ...at };
}

/** @param kind whom is asked for, to tell the two ends of a network apart */
export function lowerReach(draft: Draft, reach: Ast.Reach, kind: KindSymbol | undefined): Reach {
  if (reach.is === 'anyone' || reach.is === 'zone') return { is: 'all' };
  return isByTies(reach) ? tiedReach(draft, reach, kind) : spaceReach(draft, reach);
}

function tiedReach(draft: Draft, reach: Ast.Reach, kind: KindSymbol | undefined): Extract<Reach, { is: 'tied' }> {
  const network = draft.shared.model.networkOf.get(reach)!;
  const asker = draft.asker;
  const riding = draft.shared.model.askersRiding.get(reach);
  if (riding) {
    const agent = draft.agentIn(vehicleSlot(draft, riding, draft.agent(asker!)));
    return { is: 'tied', network: network.index, side: 1, agent };
  }
  const agent: AgentRef = reach.of ? draft.agentIn(lowerAgent(draft, reach.of)) : whoAsks(draft, network);
  const askerKind = reach.of ? kindOfExpr(draft, reach.of) : draft.kindOfLocal(asker!);
  const side =
    network.directed && network.from === network.to
      ? reach.of
        ? 1
        : 0
      : sideOf(network, askerKind ?? kind ?? network.from);
  return { is: 'tied', network: network.index, side, agent };
}

function kindOfExpr(draft: Draft, expr: Ast.Expr): KindSymbol | undefined {
  const type = draft.shared.model.types.get(expr);
  return type?.is === 'agent' ? draft.shared.model.kinds.find((k) => k.name === type.kind) : undefined;
}

/** Squares and crosses reach so many cells to each side, whatever a cell measures. */
function reachDistance(draft: Draft, { is, distance }: Ast.Reach, space: SpaceSymbol): Expr {
  const length = draft.lower(distance!);
  return is === 'within' ? reachInCells(space, length) : length;
}

function spaceReach(draft: Draft, reach: Ast.Reach): SpaceReach {
  const space = draft.shared.model.spaceOf.get(reach)!;
  const distance = reach.distance ? draft.hold(reachDistance(draft, reach, space)) : num(0);
  const { x, y } = reach.of ? lowerPlace(draft, reach.of) : placeHere(draft);
  // The own cell of a field is kept as such, so that its neighbours are found without a search.
  const isOwnCell = x.op === 'cell x' && x.cell.op === 'own cell';
  return {
    is: reach.is as SpaceReach['is'],
    space: space.index,
    distance,
    x: isOwnCell ? x : draft.hold(x),
    y: isOwnCell ? y : draft.hold(y),
  };
}

// Counting and gathering

export function lowerAsk(draft: Draft, expr: Ast.ExprOf<'ask'>): Expr {
  const { query: q } = expr;
  if (expr.ask === 'share') {
    const fitting = lowerQuery(draft, q);
    const total = counted(draft, 'count', { ...fitting, where: undefined });
    return draft.finite(binary('/', counted(draft, 'count', fitting), total), expr.span, 'a share of nobody');
  }
  const query = lowerQuery(draft, q);
  if (expr.ask === 'count' && query.reach.is === 'all' && !query.where) {
    const { over } = query;
    if (over.is === 'agents') {
      const all: Expr = { op: 'count of kind', kind: query.kind };
      return query.except === undefined ? all : binary('-', all, num(1));
    }
    if (over.is === 'tally') return { op: 'tally', tally: over.tally, fn: 'count' };
    if (over.is === 'list' && !over.ofAgents)
      return { op: 'list length', kind: over.owner, column: over.column, agent: over.agent };
  }
  return counted(draft, expr.ask === 'any' ? 'any' : 'count', query);
}

export function counted(draft: Draft, op: 'count' | 'any', query: Query): Expr {
  const slot = draft.newLocal();
  draft.emit({ op, local: slot, query });
  return local(slot);
}

export function lowerGather(draft: Draft, expr: Ast.ExprOf<'gather'>): Expr {
  const { model } = draft.shared;
  const { fn } = expr;
  const level = expr.level ? draft.lower(expr.level) : undefined;
  if (expr.last) {
    const ref = model.refs.get(expr.of);
    if (ref?.is !== 'measure') throw new RangeError('Only a measure is gathered over the last rows');
    return times(
      { op: 'recent', fn, measure: ref.measure.index, time: draft.lower(expr.last), level },
      shownFactor(model, ref.measure),
    );
  }
  if (!expr.over) {
    const ref = model.refs.get(expr.of);
    if (ref?.is === 'tally') return demanded(draft, { op: 'tally', tally: ref.tally.index, fn, level }, expr);
    if (ref?.is !== 'field') throw new RangeError('Only a field or a tally is gathered without “over”');
    return { op: 'field mean', field: ref.field.index, fn, level };
  }
  const type = model.types.get(expr.of);
  if (type?.is === 'number' && type.direction && fn === 'mean') return meanDirection(draft, expr);
  return gathered(draft, expr, fn, () => draft.code(expr.of), level);
}

/** In a rule, gathering nobody stops the run; elsewhere it gives an empty value. */
function demanded(draft: Draft, value: Expr, expr: Ast.ExprOf<'gather'>): Expr {
  return draft.standing.actor !== undefined && expr.fn !== 'sum'
    ? draft.finite(value, expr.span, `“${expr.fn} of” nothing`)
    : value;
}

function gathered(
  draft: Draft,
  expr: Ast.ExprOf<'gather'>,
  fn: Ast.GatherFunction,
  code: () => Code,
  level?: Expr,
): Expr {
  const query = lowerQuery(draft, expr.over!);
  const value = code();
  const slot = draft.newLocal();
  const demands = draft.standing.actor !== undefined && fn !== 'sum';
  const site = demands ? draft.site(expr.span, `“${fn} of” nobody`) : undefined;
  draft.emit({ op: 'gather', local: slot, fn, query, value, level, site });
  return local(slot);
}

/** The direction of the summed unit vectors (S15). */
function meanDirection(draft: Draft, expr: Ast.ExprOf<'gather'>): Expr {
  const part = (fn: 'sin' | 'cos') => (): Code => {
    const { statements, value } = draft.code(expr.of);
    return { statements, value: { op: 'call', fn, args: [value] } };
  };
  const x = gathered(draft, expr, 'mean', part('sin'));
  const y = gathered(draft, expr, 'mean', part('cos'));
  return { op: 'call', fn: 'direction of', args: [x, y] };
}

/** The middle of places, where the space wraps of the images nearest to here (S15). */
export function lowerCentre(draft: Draft, expr: Ast.ExprOf<'gather'>): Point {
  const here = draft.asker ? heldPlace(draft, placeHere(draft)) : { x: num(0), y: num(0) };
  const space = draft.shared.model.spaceOf.get(expr)!.index;
  const axis = (which: 'x' | 'y'): Expr => {
    const way = (): Code => {
      let value: Expr = num(0);
      const statements = draft.collect(
        () => (value = { op: 'way', space, axis: which, from: here[which], to: lowerPlace(draft, expr.of)[which] }),
      );
      return { statements, value };
    };
    return draft.hold(binary('+', here[which], gathered(draft, expr, 'mean', way)));
  };
  return { x: axis('x'), y: axis('y') };
}

export function lowerPick(
  draft: Draft,
  expr: Ast.ExprOf<'pick'>,
  slot: number,
  then: () => void,
  otherwise: readonly Statement[],
): void {
  const query: Query = { ...lowerQuery(draft, expr.query), present: true };
  const by = expr.by ? draft.code(expr.by) : undefined;
  const weight = expr.query.weight ? draft.code(expr.query.weight) : undefined;
  const { reach } = query;
  const isPlaced = reach.is !== 'all' && reach.is !== 'tied';
  const from =
    expr.how !== 'nearest' ? undefined : isPlaced ? { x: reach.x, y: reach.y } : heldPlace(draft, placeHere(draft));
  const found = draft.collect(then);
  draft.emit({
    op: 'pick',
    local: slot,
    how: expr.how,
    query,
    by,
    weight,
    from,
    found,
    nobody: otherwise,
    site: draft.site(expr.span, 'the weight of a candidate'),
  });
}

/** The side of a network on which agents of a kind stand. */
function sideOf(network: NetworkSymbol, kind: KindSymbol): number {
  return network.from !== network.to && kind === network.to ? 1 : 0;
}
