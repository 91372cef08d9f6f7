import type { AttributeSymbol, KindSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Expr } from '../plan/plan.ts';
import { binary, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import { inCells } from './lengths.ts';
import { selfOf } from './machine.ts';
import { lowerAgent, lowerPlace, pickedPlace, placeOfAgent } from './place.ts';

export function writePlace(
  draft: Draft,
  kind: KindSymbol,
  attribute: AttributeSymbol,
  agent: AgentRef,
  { x, y }: Point,
  site: number,
): void {
  const column = draft.columnOf(attribute);
  draft.emit({ op: 'write', kind: kind.index, column, agent, how: '=', value: x, site, mayBeEmpty: true });
  draft.emit({ op: 'write', kind: kind.index, column: column + 1, agent, how: '=', value: y, site, mayBeEmpty: true });
}

/** Runs `use` with a place; a picker that finds nobody does nothing (S11), nor does somebody who is nobody. */
export function lowerTarget(draft: Draft, expr: Ast.Expr, use: (place: Point) => void): void {
  const type = draft.shared.model.types.get(expr);
  if (expr.is === 'pick') {
    const slot = draft.newLocal();
    draft.pick(expr, slot, () => use(pickedPlace(draft, expr, slot)), []);
  } else if (type?.is === 'agent' && type.maybe)
    ifSomebody(draft, lowerAgent(draft, expr), (agent) => use(placeOfAgent(kindNamed(draft, type.kind), agent)));
  else use(lowerPlace(draft, expr));
}

function kindNamed(draft: Draft, name: string): KindSymbol {
  return draft.shared.model.kinds.find((kind) => kind.name === name)!;
}

function ifSomebody(draft: Draft, slot: number, use: (agent: AgentRef) => void): void {
  const then = draft.collect(() => use(draft.agentIn(slot)));
  draft.emit({ op: 'if', condition: { op: 'somebody', local: slot }, then, else: [] });
}

/** Who is moved or turned. */
export interface Mover {
  readonly kind: KindSymbol;
  readonly agent: AgentRef;
}

/** Runs `use` with who is moved or turned: the asker, or somebody else; nothing happens if that is nobody. */
export function withMover(draft: Draft, who: Ast.Expr | undefined, use: (mover: Mover) => void): void {
  if (!who) {
    use(selfOf(draft));
    return;
  }
  const type = draft.shared.model.types.get(who);
  if (type?.is !== 'agent') throw new RangeError('Somebody is moved who is no agent');
  const kind = kindNamed(draft, type.kind);
  const slot = lowerAgent(draft, who);
  if (type.maybe) ifSomebody(draft, slot, (agent) => use({ kind, agent }));
  else use({ kind, agent: draft.agentIn(slot) });
}

function bearingTo({ kind, agent }: Mover, place: Point): Expr {
  const here = placeOfAgent(kind, agent);
  return { op: 'bearing', space: kind.space!.index, ax: here.x, ay: here.y, bx: place.x, by: place.y };
}

export function lowerTurn(draft: Draft, statement: Ast.StatementOf<'turn'>): void {
  const site = draft.site(statement.span, 'a turn');
  withMover(draft, statement.who, (mover) => {
    const { kind, agent } = mover;
    const emit = (direction: Expr): void => draft.emit({ op: 'turn', kind: kind.index, agent, direction, site });
    if (statement.how === 'by') {
      const facing: Expr = { op: 'position', kind: kind.index, axis: 'direction', agent };
      emit(binary('+', facing, draft.lower(statement.value)));
    } else if (draft.shared.model.types.get(statement.value)?.is === 'number') emit(draft.lower(statement.value));
    else lowerTarget(draft, statement.value, (place) => emit(bearingTo(mover, place)));
  });
}

export function lowerMoveToward(
  draft: Draft,
  statement: Ast.StatementOf<'move toward'>,
  mover: Mover,
  site: number,
): void {
  const { kind, agent } = mover;
  lowerTarget(draft, statement.target, (place) => {
    const held = { x: draft.hold(place.x), y: draft.hold(place.y) };
    const here = placeOfAgent(kind, agent);
    const far = draft.hold({
      op: 'distance',
      space: kind.space!.index,
      ax: here.x,
      ay: here.y,
      bx: held.x,
      by: held.y,
    });
    const by = draft.hold({ op: 'call', fn: 'min', args: [inCells(kind.space!, draft.lower(statement.by)), far] });
    const isAway = binary('>', far, num(0));
    const body = draft.collect(() => {
      draft.emit({ op: 'turn', kind: kind.index, agent, direction: bearingTo(mover, held), site });
      draft.emit({ op: 'move by', kind: kind.index, agent, distance: by, site });
    });
    draft.emit({ op: 'if', condition: isAway, then: body, else: [] });
  });
}

/** `move by` and `move to`. */
export function lowerMove(
  draft: Draft,
  statement: Ast.StatementOf<'move'>,
  { kind, agent }: Mover,
  site: number,
): void {
  if (statement.value.is === 'nowhere') draft.emit({ op: 'vanish', kind: kind.index, agent });
  else if (statement.how === 'by')
    draft.emit({
      op: 'move by',
      kind: kind.index,
      agent,
      distance: inCells(kind.space!, draft.lower(statement.value)),
      site,
    });
  else
    lowerTarget(draft, statement.value, ({ x, y }) =>
      draft.emit({ op: 'move to', kind: kind.index, agent, x, y, site }),
    );
}
