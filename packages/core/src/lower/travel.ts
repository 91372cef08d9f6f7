import type * as Ast from '../language/syntax.ts';
import { num } from './code.ts';
import type { Draft } from './draft.ts';
import { emitTravel } from './emit-travel.ts';
import { lowerMixedTravel } from './mixed-travel.ts';
import { lowerTarget } from './movement.ts';
import { lowerWalk } from './walk.ts';

/** `move toward P by D` on a map: along the lanes, and nobody hears of an arrival. */
export function lowerMoveAlong(draft: Draft, statement: Ast.StatementOf<'move toward'>): void {
  const site = draft.site(statement.span, 'a move');
  lowerTarget(
    draft,
    statement.target,
    (place) => void emitTravel(draft, place, draft.lower(statement.by), num(0), '', true, site),
  );
}

/**
 * A step's share of a way. Time that an arrival has left over is not lost if the text travels on in this step or the next: the column of the kind holds the time up to
 * which the agent has travelled.
 */
export function lowerTravel(draft: Draft, statement: Ast.StatementOf<'travel'>): void {
  const lines = draft.shared.model.linesOf.get(statement);
  lowerTarget(draft, statement.target, (place) => {
    const goal = { x: draft.hold(place.x), y: draft.hold(place.y) };
    const speed = draft.hold(draft.lower(statement.at));
    if (lines) lowerMixedTravel(draft, statement, goal, speed, lines);
    else lowerWalk(draft, statement, goal, speed);
  });
}
