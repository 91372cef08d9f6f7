import type { AttributeSymbol, KindSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Expr } from '../plan/plan.ts';
import { binary, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import { selfOf } from './machine.ts';
import { lowerPlace, pickedPlace, placeOfLocal } from './place.ts';

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

/** Runs `use` with a place; a picker that finds nobody does nothing (S11). */
export function lowerTarget(draft: Draft, expr: Ast.Expr, use: (place: Point) => void): void {
  if (expr.is !== 'pick') {
    use(lowerPlace(draft, expr));
    return;
  }
  const slot = draft.newLocal();
  draft.pick(expr, slot, () => use(pickedPlace(draft, expr, slot)), []);
}

function bearingTo(draft: Draft, place: Point): Expr {
  const here = placeOfLocal(draft, selfOf(draft).symbol);
  return { op: 'bearing', space: selfOf(draft).kind.space!.index, ax: here.x, ay: here.y, bx: place.x, by: place.y };
}

export function lowerTurn(draft: Draft, statement: Ast.StatementOf<'turn'>): void {
  const { kind, agent } = selfOf(draft);
  const site = draft.site(statement.span, 'a turn');
  const emit = (direction: Expr): void => draft.emit({ op: 'turn', kind: kind.index, agent, direction, site });
  if (statement.how === 'by') {
    const facing: Expr = { op: 'position', kind: kind.index, axis: 'direction', agent };
    emit(binary('+', facing, draft.lower(statement.value)));
  } else if (draft.shared.model.types.get(statement.value)?.is === 'number') emit(draft.lower(statement.value));
  else lowerTarget(draft, statement.value, (place) => emit(bearingTo(draft, place)));
}

export function lowerMoveToward(draft: Draft, statement: Ast.StatementOf<'move toward'>, site: number): void {
  const { kind, agent } = selfOf(draft);
  lowerTarget(draft, statement.target, (place) => {
    const held = { x: draft.hold(place.x), y: draft.hold(place.y) };
    const here = placeOfLocal(draft, selfOf(draft).symbol);
    const far = draft.hold({
      op: 'distance',
      space: kind.space!.index,
      ax: here.x,
      ay: here.y,
      bx: held.x,
      by: held.y,
    });
    const by = draft.hold({ op: 'call', fn: 'min', args: [draft.lower(statement.by), far] });
    const isAway = binary('>', far, num(0));
    const body = draft.collect(() => {
      draft.emit({ op: 'turn', kind: kind.index, agent, direction: bearingTo(draft, held), site });
      draft.emit({ op: 'move by', kind: kind.index, agent, distance: by, site });
    });
    draft.emit({ op: 'if', condition: isAway, then: body, else: [] });
  });
}

/** `move by` and `move to`. */
export function lowerMove(draft: Draft, statement: Ast.StatementOf<'move'>, site: number): void {
  const { kind, agent } = selfOf(draft);
  if (statement.value.is === 'nowhere') draft.emit({ op: 'vanish', kind: kind.index, agent });
  else if (statement.how === 'by')
    draft.emit({ op: 'move by', kind: kind.index, agent, distance: draft.lower(statement.value), site });
  else
    lowerTarget(draft, statement.value, ({ x, y }) =>
      draft.emit({ op: 'move to', kind: kind.index, agent, x, y, site }),
    );
}
