import type * as Ast from '../language/syntax.ts';
import type { Expr } from '../plan/plan.ts';
import { tellArrival } from './arrivals.ts';
import { binary, END, larger, NOW, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import type { Travelled } from './emit-travel.ts';
import { emitTravel } from './emit-travel.ts';
import { quickestAt, waysOf } from './journey-aim.ts';
import { journeyValue, writeJourney } from './journey-columns.ts';
import { selfOf } from './machine.ts';

/** On foot to a place, of which the machines of the agent hear. */
export function lowerWalk(draft: Draft, statement: Ast.StatementOf<'travel'>, goal: Point, speed: Expr): void {
  const { kind, agent } = selfOf(draft);
  const { used, left } = walkOn(draft, statement, goal, speed);
  const arrives = draft.collect(() => tellArrival(draft, kind, agent, used));
  const goesOn = draft.collect(() => tellArrival(draft, kind, agent, undefined));
  draft.emit({ op: 'if', condition: binary('is', left, num(0)), then: arrives, else: goesOn });
  const otherwise = statement.else;
  if (!otherwise) return;
  const stays = draft.collect(() => draft.block(otherwise));
  draft.emit({ op: 'if', condition: binary('<', left, num(0)), then: stays, else: [] });
}

/** What is left of the step is walked. */
export function walkOn(draft: Draft, statement: Ast.StatementOf<'travel'>, goal: Point, speed: Expr): Travelled {
  const { kind, agent } = selfOf(draft);
  const site = draft.site(statement.span, 'a journey');
  const until = journeyValue(draft, kind, 'travelled', agent);
  const earliest = binary('-', NOW, num(draft.shared.model.clock.stepLength * (1 - 1e-9)));
  const from = draft.hold({ op: 'choose', condition: binary('>', until, earliest), then: until, else: NOW });
  const time = draft.hold(larger(num(0), binary('-', END, from)));
  const { quickest } = statement.way;
  const amount = quickest ? time : binary('*', time, speed);
  const mustReach = statement.else === undefined;
  const travelled = emitTravel(
    draft,
    goal,
    amount,
    quickest ? quickestAt(speed) : num(0),
    waysOf(statement.way),
    mustReach,
    site,
  );
  const spend = (value: Expr): void => writeJourney(draft, kind, 'travelled', agent, value, site);
  const arrives = draft.collect(() => spend(binary('+', from, binary('*', travelled.used, time))));
  draft.emit({
    op: 'if',
    condition: binary('is', travelled.left, num(0)),
    then: arrives,
    else: draft.collect(() => spend(END)),
  });
  return travelled;
}
