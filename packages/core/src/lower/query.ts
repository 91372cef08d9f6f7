import type { KindSymbol, LocalSymbol, NetworkSymbol, QueryHead } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { Point } from './body-lowerer.ts';
import { binary, local, num, shownFactor, times } from './body-lowerer.ts';
import { PlaceLowerer } from './place.ts';
import type { AgentRef, Code, Expr, Query, Reach, SpaceReach, Statement } from '../plan/plan.ts';

/** Lowers queries, and what is counted, gathered and picked by them. */
export abstract class QueryLowerer extends PlaceLowerer {
  query(query: Ast.Query): Query {
    const head = this.shared.model.queryHeads.get(query)!;
    const candidate = this.shared.model.locals.get(query)!;
    const slot = this.bindCandidate(head, candidate);
    const [first, ...others] = this.inOrder(query.reaches);
    const kind = this.kindAsked(head, candidate);
    const reach: Reach = first ? this.reach(first, kind) : { is: 'all' };
    const conditions = others.map(
      (other) =>
        (at: Point): Expr =>
          this.inReach(other, kind, slot, at),
    );
    if (first?.is === 'zone') conditions.unshift((at) => this.inReach(first, kind, slot, at));
    const asker = this.acting ?? this.standing.actor;
    const isOwnKind =
      kind !== undefined && asker !== undefined && asker.type.is === 'agent' && asker.type.kind === kind.name;
    const excepted =
      head.is === 'agents' ? [...(isOwnKind ? [this.slotOf(asker)] : []), ...this.centres(query, kind)] : [];
    const [except, ...more] = [...new Set(excepted)];
    for (const other of more)
      conditions.push(() => ({
        op: 'not',
        value: { op: 'same agent', a: { local: slot, own: false }, b: this.agentIn(other) },
      }));
    const where = this.whereCode(query.where, conditions, kind, head, slot);
    return { over: this.over(head), kind: kind?.index ?? -1, reach, candidate: slot, except, where };
  }

  /** Those of the kind round whom a reach in space is asked (`within 5 of it`): they are not among those near them. */
  private centres(query: Ast.Query, kind: KindSymbol | undefined): number[] {
    return query.reaches.flatMap((reach) => {
      if (reach.is === 'tied' || reach.is === 'zone' || reach.is === 'anyone' || !reach.of) return [];
      return kind && this.kindOfExpr(reach.of) === kind ? [this.lowerAgent(reach.of)] : [];
    });
  }

  /** Ties are the shortest list to go through; what is nowhere or in a zone is a condition. */
  private inOrder(reaches: readonly Ast.Reach[]): Ast.Reach[] {
    const weight = (reach: Ast.Reach): number => (reach.is === 'tied' ? 0 : reach.is === 'zone' ? 2 : 1);
    return [...reaches].sort((a, b) => weight(a) - weight(b));
  }

  private kindAsked(head: QueryHead, candidate: LocalSymbol): KindSymbol | undefined {
    if (head.is === 'agents') return head.kind;
    return head.is === 'list' && candidate.type.is === 'agent' ? this.kindOfLocal(candidate) : undefined;
  }

  private bindCandidate(head: QueryHead, candidate: LocalSymbol): number {
    const slot = this.slotOf(candidate);
    if (head.is === 'cells') this.cells.set(candidate, { slot, raster: this.rasterOf(head) });
    else if (head.is === 'list' && head.attribute.type.is === 'list')
      this.bindItem(head, head.attribute.type.of, candidate, slot);
    else if (head.is === 'tally')
      this.items.set(candidate, { op: 'tally item', tally: head.tally.index, index: local(slot) });
    return slot;
  }

  private bindItem(
    head: Extract<QueryHead, { is: 'list' }>,
    of: 'agents' | 'numbers' | 'places',
    candidate: LocalSymbol,
    slot: number,
  ): void {
    const column = this.columnOf(head.attribute);
    const agent = this.agent(head.agent);
    if (of === 'places') this.heldPlaces.set(candidate, this.listPlace(head.kind, column, agent, slot));
    else if (of === 'numbers')
      this.items.set(candidate, {
        op: 'list item',
        kind: head.kind.index,
        column,
        stride: 1,
        part: 0,
        agent,
        index: local(slot),
      });
  }

  /** Names that stand for an item of a list or tally of numbers. */
  readonly items = new Map<LocalSymbol, Expr>();

  private over(head: QueryHead): Query['over'] {
    switch (head.is) {
      case 'agents':
        return { is: 'agents' };
      case 'cells':
        return { is: 'cells', raster: this.rasterOf(head), empty: head.empty };
      case 'ties': {
        const asker = this.acting ?? this.standing.actor;
        const kind = asker?.type.is === 'agent' ? this.kindOfLocal(asker) : undefined;
        const isEnd = kind === head.network.from || kind === head.network.to;
        return {
          is: 'ties',
          network: head.network.index,
          side: kind && isEnd ? sideOf(head.network, kind) : 0,
          agent: isEnd ? this.agent(asker!) : undefined,
        };
      }
      case 'list': {
        const { type } = head.attribute;
        return {
          is: 'list',
          ofAgents: type.is === 'list' && type.of === 'agents',
          owner: head.kind.index,
          column: this.columnOf(head.attribute),
          agent: this.agent(head.agent),
        };
      }
      case 'tally':
        return { is: 'tally', tally: head.tally.index };
    }
  }

  private whereCode(
    where: Ast.Expr | undefined,
    conditions: readonly ((at: Point) => Expr)[],
    kind: KindSymbol | undefined,
    head: QueryHead,
    slot: number,
  ): Code | undefined {
    if (!where && conditions.length === 0) return undefined;
    let value: Expr = num(1);
    const statements = this.collect(() => {
      const at = kind
        ? this.placeOfAgent(kind, { local: slot, own: false })
        : head.is === 'cells'
          ? this.cellPlace({ slot, raster: this.rasterOf(head) })
          : { x: num(0), y: num(0) };
      conditions.forEach((condition, i) => (value = i === 0 ? condition(at) : binary('and', value, condition(at))));
      if (!where) return;
      value = value.op === 'number' ? this.lower(where) : this.andThen(value, () => this.lower(where));
    });
    return { statements, value };
  }

  /** A further reach as a condition on the candidate. */
  private inReach(reach: Ast.Reach, kind: KindSymbol | undefined, slot: number, at: Point): Expr {
    if (reach.is === 'zone') return { op: 'in zone', zone: this.shared.model.zoneOf.get(reach)!.index, ...at };
    if (reach.is === 'anyone') return num(1);
    if (reach.is === 'tied') {
      const { network, side, agent } = this.tiedReach(reach, kind);
      return { op: 'tied', network, side, a: agent, b: { local: slot, own: false } };
    }
    return { op: 'in reach', reach: this.spaceReach(reach), ...at };
  }

  /** @param kind whom is asked for, to tell the two ends of a network apart */
  reach(reach: Ast.Reach, kind: KindSymbol | undefined): Reach {
    if (reach.is === 'anyone' || reach.is === 'zone') return { is: 'all' };
    return reach.is === 'tied' ? this.tiedReach(reach, kind) : this.spaceReach(reach);
  }

  private tiedReach(reach: Ast.Reach, kind: KindSymbol | undefined): Extract<Reach, { is: 'tied' }> {
    const network = this.shared.model.networkOf.get(reach)!;
    const asker = this.acting ?? this.standing.actor;
    const agent: AgentRef = reach.of ? this.agentIn(this.lowerAgent(reach.of)) : this.asker(network);
    const askerKind = reach.of ? this.kindOfExpr(reach.of) : this.kindOfLocal(asker!);
    const side =
      network.directed && network.from === network.to
        ? reach.of
          ? 1
          : 0
        : sideOf(network, askerKind ?? kind ?? network.from);
    return { is: 'tied', network: network.index, side, agent };
  }

  private kindOfExpr(expr: Ast.Expr): KindSymbol | undefined {
    const type = this.shared.model.types.get(expr);
    return type?.is === 'agent' ? this.shared.model.kinds.find((k) => k.name === type.kind) : undefined;
  }

  private spaceReach(reach: Ast.Reach): SpaceReach {
    const distance = reach.distance ? this.hold(this.lower(reach.distance)) : num(0);
    const { x, y } = reach.of ? this.place(reach.of) : this.here();
    // The own cell of a field is kept as such, so that its neighbours are found without a search.
    const isOwnCell = x.op === 'cell x' && x.cell.op === 'own cell';
    const space = this.shared.model.spaceOf.get(reach)!.index;
    return {
      is: reach.is as SpaceReach['is'],
      space,
      distance,
      x: isOwnCell ? x : this.hold(x),
      y: isOwnCell ? y : this.hold(y),
    };
  }

  // Counting and gathering

  protected ask(expr: Ast.ExprOf<'ask'>): Expr {
    const { query: q } = expr;
    if (expr.ask === 'share') {
      const fitting = this.query(q);
      const total = this.counted('count', { ...fitting, where: undefined });
      return this.finite(binary('/', this.counted('count', fitting), total), expr.span, 'a share of nobody');
    }
    const query = this.query(q);
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
    return this.counted(expr.ask === 'any' ? 'any' : 'count', query);
  }

  protected counted(op: 'count' | 'any', query: Query): Expr {
    const slot = this.newLocal();
    this.emit({ op, local: slot, query });
    return local(slot);
  }

  gather(expr: Ast.ExprOf<'gather'>): Expr {
    const { model } = this.shared;
    const { fn } = expr;
    const level = expr.level ? this.lower(expr.level) : undefined;
    if (expr.last) {
      const ref = model.refs.get(expr.of);
      if (ref?.is !== 'measure') throw new RangeError('Only a measure is gathered over the last rows');
      return times(
        { op: 'recent', fn, measure: ref.measure.index, time: this.lower(expr.last), level },
        shownFactor(model, ref.measure),
      );
    }
    if (!expr.over) {
      const ref = model.refs.get(expr.of);
      if (ref?.is === 'tally') return this.demanded({ op: 'tally', tally: ref.tally.index, fn, level }, expr);
      if (ref?.is !== 'field') throw new RangeError('Only a field or a tally is gathered without “over”');
      return { op: 'field mean', field: ref.field.index, fn, level };
    }
    const type = model.types.get(expr.of);
    if (type?.is === 'number' && type.direction && fn === 'mean') return this.meanDirection(expr);
    return this.gathered(expr, fn, () => this.code(expr.of), level);
  }

  /** In a rule, gathering nobody stops the run; elsewhere it gives an empty value. */
  private demanded(value: Expr, expr: Ast.ExprOf<'gather'>): Expr {
    return this.standing.actor !== undefined && expr.fn !== 'sum'
      ? this.finite(value, expr.span, `“${expr.fn} of” nothing`)
      : value;
  }

  private gathered(expr: Ast.ExprOf<'gather'>, fn: Ast.GatherFunction, code: () => Code, level?: Expr): Expr {
    const query = this.query(expr.over!);
    const value = code();
    const slot = this.newLocal();
    const demands = this.standing.actor !== undefined && fn !== 'sum';
    const site = demands ? this.site(expr.span, `“${fn} of” nobody`) : undefined;
    this.emit({ op: 'gather', local: slot, fn, query, value, level, site });
    return local(slot);
  }

  /** The direction of the summed unit vectors (S15). */
  private meanDirection(expr: Ast.ExprOf<'gather'>): Expr {
    const part = (fn: 'sin' | 'cos') => (): Code => {
      const { statements, value } = this.code(expr.of);
      return { statements, value: { op: 'call', fn, args: [value] } };
    };
    const x = this.gathered(expr, 'mean', part('sin'));
    const y = this.gathered(expr, 'mean', part('cos'));
    return { op: 'call', fn: 'direction of', args: [x, y] };
  }

  /** The middle of places, where the space wraps of the images nearest to here (S15). */
  protected centre(expr: Ast.ExprOf<'gather'>): Point {
    const here = (this.acting ?? this.standing.actor) ? this.heldPlace(this.here()) : { x: num(0), y: num(0) };
    const space = this.shared.model.spaceOf.get(expr)!.index;
    const axis = (which: 'x' | 'y'): Expr => {
      const way = (): Code => {
        let value: Expr = num(0);
        const statements = this.collect(
          () => (value = { op: 'way', space, axis: which, from: here[which], to: this.place(expr.of)[which] }),
        );
        return { statements, value };
      };
      return this.hold(binary('+', here[which], this.gathered(expr, 'mean', way)));
    };
    return { x: axis('x'), y: axis('y') };
  }

  // Picking

  protected pick(expr: Ast.ExprOf<'pick'>, slot: number, then: () => void, otherwise: readonly Statement[]): void {
    const query: Query = { ...this.query(expr.query), present: true };
    const by = expr.by ? this.code(expr.by) : undefined;
    const weight = expr.query.weight ? this.code(expr.query.weight) : undefined;
    const { reach } = query;
    const isPlaced = reach.is !== 'all' && reach.is !== 'tied';
    const from =
      expr.how !== 'nearest' ? undefined : isPlaced ? { x: reach.x, y: reach.y } : this.heldPlace(this.here());
    const found = this.collect(then);
    this.emit({
      op: 'pick',
      local: slot,
      how: expr.how,
      query,
      by,
      weight,
      from,
      found,
      nobody: otherwise,
      site: this.site(expr.span, 'the weight of a candidate'),
    });
  }
}

/** The side of a network on which agents of a kind stand. */
function sideOf(network: NetworkSymbol, kind: KindSymbol): number {
  return network.from !== network.to && kind === network.to ? 1 : 0;
}
