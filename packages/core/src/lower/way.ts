import type * as Ast from '../language/syntax.ts';
import type { Expr } from '../plan/plan.ts';
import { binary, num } from './code.ts';
import type { Draft } from './draft.ts';
import { lowerPlace, placeHere } from './place.ts';

/** The kinds of ways to keep to, in the order of the alphabet, so that the same ones are the same. */
export function waysOf({ ways }: Ast.WayChoice): string {
  return [...new Set(ways?.map(({ text }) => text))].sort().join(' ');
}

/** The length of a way along the lanes, or the time that it takes. */
export function lowerWay(draft: Draft, expr: Ast.ExprOf<'way to'>): Expr {
  const here = placeHere(draft);
  const goal = lowerPlace(draft, expr.to);
  const speed = expr.at && draft.hold(draft.lower(expr.at));
  const way: Expr = {
    op: 'way length',
    space: draft.kindOfLocal((draft.acting ?? draft.standing.actor)!).space!.index,
    ax: here.x,
    ay: here.y,
    bx: goal.x,
    by: goal.y,
    speed: speed && expr.way.quickest ? speed : num(0),
    ways: waysOf(expr.way),
  };
  return speed && !expr.way.quickest ? binary('/', way, speed) : way;
}
