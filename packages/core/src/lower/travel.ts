import type * as Ast from '../language/syntax.ts';
import type { Expr } from '../plan/plan.ts';
import { tellArrival } from './arrivals.ts';
import { binary, local, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import { selfOf } from './machine.ts';
import { lowerTarget } from './movement.ts';
import { carryRiders, demandAshore } from './riding.ts';
import { waysOf } from './way.ts';

const NOW: Expr = { op: 'clock', which: 'now' };
const END: Expr = { op: 'clock', which: 'end of step' };

/** The locals in which a travel leaves what it used of its amount and what is left to go. */
interface Travelled {
  readonly used: Expr;
  readonly left: Expr;
}

function emitTravel(
  draft: Draft,
  { x, y }: Point,
  amount: Expr,
  speed: Expr,
  ways: string,
  mustReach: boolean,
  site: number,
): Travelled {
  const { kind, agent } = selfOf(draft);
  demandAshore(draft, kind, agent, site);
  const [used, left] = [draft.newLocal(), draft.newLocal()];
  draft.emit({ op: 'travel', kind: kind.index, agent, x, y, amount, speed, ways, used, left, mustReach, site });
  carryRiders(draft, kind, agent, site);
  return { used: local(used), left: local(left) };
}

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
  const { kind, agent } = selfOf(draft);
  const site = draft.site(statement.span, 'a journey');
  const column = draft.shared.dueColumns.get(kind)!;
  lowerTarget(draft, statement.target, (place) => {
    const goal = { x: draft.hold(place.x), y: draft.hold(place.y) };
    const speed = draft.hold(draft.lower(statement.at));
    const until: Expr = { op: 'due', kind: kind.index, column, agent };
    const earliest = binary('-', NOW, num(draft.shared.model.clock.stepLength * (1 - 1e-9)));
    const from = draft.hold({ op: 'choose', condition: binary('>', until, earliest), then: until, else: NOW });
    const time = draft.hold({ op: 'call', fn: 'max', args: [num(0), binary('-', END, from)] });
    const { quickest } = statement.way;
    const amount = quickest ? time : binary('*', time, speed);
    const { used, left } = emitTravel(
      draft,
      goal,
      amount,
      quickest ? speed : num(0),
      waysOf(statement.way),
      statement.else === undefined,
      site,
    );
    const spend = (value: Expr): void => draft.emit({ op: 'write due', kind: kind.index, column, agent, value, site });
    const arrives = draft.collect(() => {
      spend(binary('+', from, binary('*', used, time)));
      tellArrival(draft, kind, agent, used);
    });
    const goesOn = draft.collect(() => {
      spend(END);
      tellArrival(draft, kind, agent, undefined);
    });
    draft.emit({ op: 'if', condition: binary('is', left, num(0)), then: arrives, else: goesOn });
    const otherwise = statement.else;
    if (otherwise)
      draft.emit({
        op: 'if',
        condition: binary('<', left, num(0)),
        then: draft.collect(() => draft.block(otherwise)),
        else: [],
      });
  });
}
