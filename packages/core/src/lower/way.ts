import type * as Ast from '../language/syntax.ts';
import type { Expr } from '../plan/plan.ts';
import { binary, num } from './code.ts';
import { aimOf, quickestAt, waysOf } from './journey-aim.ts';
import type { Draft } from './draft.ts';
import { lowerPlace, placeHere } from './place.ts';

/** The length of a way along the lanes, or the time that it takes. */
export function lowerWay(draft: Draft, expr: Ast.ExprOf<'way to'>): Expr {
  const here = placeHere(draft);
  const goal = lowerPlace(draft, expr.to);
  const speed = expr.at && draft.hold(draft.lower(expr.at));
  const lines = draft.shared.model.linesOf.get(expr);
  if (speed && lines) {
    const space = draft.kindOfLocal(draft.asker!).space!.index;
    const aim = aimOf(draft, space, goal, speed, expr.way, lines);
    return { op: 'journey', which: 'time', x: here.x, y: here.y, aim };
  }
  const way: Expr = {
    op: 'way length',
    space: draft.kindOfLocal(draft.asker!).space!.index,
    ax: here.x,
    ay: here.y,
    bx: goal.x,
    by: goal.y,
    speed: speed && expr.way.quickest ? quickestAt(speed) : num(0),
    ways: waysOf(expr.way),
  };
  return speed && !expr.way.quickest ? binary('/', way, speed) : way;
}
