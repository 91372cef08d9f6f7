import type { AttributeSymbol, KindSymbol, LocalSymbol, SpaceSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type { AgentRef, Code, Expr, Query, Statement } from '../plan/plan.ts';
import { columnValue, isBare } from './assignment.ts';
import { binary, local, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import { inCells } from './lengths.ts';
import { enterDynamic, heldState, startMachine } from './machine.ts';
import { writePlace } from './movement.ts';
import { cellPlace, fromHere, heldPlace, inZone, lowerAgent, lowerPlace, placeHere, somewhere } from './place.ts';

export function lowerRemove(draft: Draft, statement: Ast.StatementOf<'remove'>): void {
  const { target } = statement;
  const type = draft.shared.model.types.get(target);
  const kind = draft.shared.model.kinds.find((k) => type?.is === 'agent' && k.name === type.kind);
  if (!kind) return;
  const slot = lowerAgent(draft, target);
  const agent = draft.agentIn(slot);
  const isSure = target.is === 'path' && type?.is === 'agent' && !type.maybe;
  if (isSure) draft.emit({ op: 'remove', kind: kind.index, agent });
  else
    draft.emit({
      op: 'if',
      condition: { op: 'somebody', local: slot },
      then: [{ op: 'remove', kind: kind.index, agent }],
      else: [],
    });
  if (agent.own) draft.emit({ op: 'end turn' });
}

// New agents

export function lowerCreate(draft: Draft, statement: Ast.StatementOf<'create'>): void {
  const model = draft.shared.model;
  const kind = model.kindOf.get(statement)!;
  const newborn = model.locals.get(statement)!;
  const place = statement.placing ? lowerPlacing(draft, statement.placing) : undefined;
  const given = new Map<object, Given>();
  const others: Ast.Statement[] = [];
  for (const line of statement.block) {
    const ref = line.is === 'assign' && isBare(line.target) ? model.refs.get(line.target) : undefined;
    if (line.is === 'assign' && ref?.is === 'attribute' && ref.agent === newborn)
      given.set(ref.attribute, givenValue(draft, ref.attribute, line.value));
    else if (line.is === 'assign' && ref?.is === 'machine' && ref.agent === newborn)
      given.set(ref.machine, { state: heldState(draft, ref.machine, line.value) });
    else others.push(line);
  }
  makeAgent(
    draft,
    kind,
    newborn,
    place,
    undefined,
    given,
    { op: 'clock', which: 'end of step' },
    draft.site(statement.span, 'a new agent'),
    () => draft.block(others),
  );
}

function givenValue(draft: Draft, attribute: AttributeSymbol, value: Ast.Expr): Given {
  if (attribute.type.is === 'place') return { place: heldPlace(draft, lowerPlace(draft, value)) };
  const lowered = columnValue(draft, attribute, value);
  return { value: lowered.op === 'attribute' ? draft.hold(binary('+', lowered, num(0))) : draft.hold(lowered) };
}

function firstValue(
  draft: Draft,
  kind: KindSymbol,
  attribute: AttributeSymbol,
  agent: AgentRef,
  given: Given | undefined,
): void {
  const { line, type } = attribute;
  if (type.is === 'list') return;
  const site = draft.site(line.span, 'the first value');
  if (type.is === 'place') {
    writePlace(draft, kind, attribute, agent, given?.place ?? heldPlace(draft, lowerPlace(draft, line.value)), site);
    return;
  }
  const value = given?.value ?? columnValue(draft, attribute, line.value);
  draft.emit({ op: 'write', kind: kind.index, column: draft.columnOf(attribute), agent, how: '=', value, site });
}

export function lowerPlacing(draft: Draft, placing: Ast.Placing): Point {
  const space = draft.shared.model.spaceOf.get(placing)!;
  switch (placing.is) {
    case 'anywhere':
    case 'one to a cell':
      return somewhere(draft, space, placing.span);
    case 'here':
      return placeHere(draft);
    case 'at':
      return lowerPlace(draft, placing.of!);
    case 'nowhere':
      return { x: num(NaN), y: num(NaN) };
    case 'zone':
      return inZone(draft, draft.shared.model.zoneOf.get(placing)!, placing.span);
    case 'next to': {
      const { x, y } = lowerPlace(draft, placing.of!);
      return drawnCell(
        draft,
        space,
        { is: 'next to', space: space.index, distance: num(0), x: draft.hold(x), y: draft.hold(y) },
        undefined,
        placing,
      );
    }
    case 'cells': {
      if (draft.standing.actor) return drawnCell(draft, space, undefined, placing.where, placing);
      const slot = draft.newLocal();
      draft.emit({
        op: 'draw listed',
        space: space.index,
        local: slot,
        site: draft.site(placing.span, 'a cell to start on'),
      });
      return cellPlace({ slot, raster: rasterOfSpace(space.index) });
    }
    case 'within':
    case 'circle': {
      const centre = lowerPlace(draft, placing.of!);
      const radius = draft.hold(inCells(space, draft.lower(placing.distance!)));
      const far =
        placing.is === 'circle'
          ? radius
          : binary('*', radius, { op: 'call', fn: 'sqrt', args: [draft.draw('unit', [], placing.span)] });
      const angle = draft.hold(binary('*', draft.draw('unit', [], placing.span), num(360)));
      return fromHere(draft, space.index, draft.hold(far), angle, centre);
    }
  }
}

/** One of the cells in a reach that fit a condition, drawn evenly, where a cell holds one agent an empty one; here if there is none. */
function drawnCell(
  draft: Draft,
  space: SpaceSymbol,
  reach: Query['reach'] | undefined,
  where: Ast.Expr | undefined,
  placing: Ast.Placing,
): Point {
  const symbol = draft.shared.model.locals.get(placing);
  const candidate = symbol ? draft.slotOf(symbol) : draft.newLocal();
  const raster = rasterOfSpace(space.index);
  if (symbol) draft.cells.set(symbol, { slot: candidate, raster });
  const code: Code | undefined = where && draft.code(where);
  const query: Query = {
    over: { is: 'cells', raster, empty: space.oneAgentACell },
    kind: -1,
    reach: reach ?? { is: 'all' },
    candidate,
    where: code,
  };
  const slot = draft.newLocal();
  const x = draft.newLocal();
  const y = draft.newLocal();
  const set = (to: Point): Statement[] => [
    { op: 'set', local: x, value: to.x },
    { op: 'set', local: y, value: to.y },
  ];
  const here = reach && reach.is !== 'all' && reach.is !== 'tied' ? { x: reach.x, y: reach.y } : placeHere(draft);
  draft.emit({
    op: 'pick',
    local: slot,
    how: 'random',
    query,
    found: set(cellPlace({ slot, raster })),
    nobody: set(here),
    site: draft.site(placing.span, 'a cell'),
  });
  return { x: local(x), y: local(y) };
}

/** What a new agent is given instead of the first value of an attribute or machine. */
export interface Given {
  readonly value?: Expr;
  readonly place?: Point;
  readonly state?: Expr | ((kind: KindSymbol, agent: AgentRef, base: Expr) => void);
}

/**
 * A new agent: its direction, then its attributes in text order unless `given`, then its machines.
 * @param base the time from which the durations of the first states count
 */
export function makeAgent(
  draft: Draft,
  kind: KindSymbol,
  newborn: LocalSymbol,
  place: Point | undefined,
  facing: ((at: Point) => Expr) | undefined,
  given: ReadonlyMap<object, Given>,
  base: Expr,
  site: number,
  rest: () => void,
): void {
  const slot = draft.slotOf(newborn);
  draft.freshSlots.add(slot);
  const agent: AgentRef = { local: slot, own: false, fresh: true };
  const held = place && { x: draft.hold(place.x), y: draft.hold(place.y) };
  const found = draft.collect(() => {
    if (held) {
      const direction = facing ? facing(held) : binary('*', draft.draw('unit', [], kind.span), num(360));
      draft.emit({ op: 'turn', kind: kind.index, agent, direction, site });
    }
    draft.asSelf(kind.self, slot, () => {
      for (const attribute of kind.attributes) firstValue(draft, kind, attribute, agent, given.get(attribute));
      for (const machine of kind.machines) {
        const state = given.get(machine)?.state;
        if (!state) startMachine(draft, kind, machine, agent, base);
        else if (typeof state === 'function') state(kind, agent, base);
        else enterDynamic(draft, kind, machine, agent, state, base);
      }
    });
    rest();
  });
  draft.emit({ op: 'create', kind: kind.index, local: slot, x: held?.x, y: held?.y, site, found });
}
