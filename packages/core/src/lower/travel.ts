import type { KindSymbol, LineSymbol, RidingSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Expr, JourneyAim, Query } from '../plan/plan.ts';
import { tellArrival } from './arrivals.ts';
import { binary, local, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import type { Travelled } from './emit-travel.ts';
import { emitTravel } from './emit-travel.ts';
import { aimOf, quickestAt, stopOf, waysOf } from './journey-aim.ts';
import { journeyValue, writeJourney } from './journey-columns.ts';
import { selfOf } from './machine.ts';
import { lowerTarget } from './movement.ts';
import { placeOfAgent, placeOfLocal, vehicleSlot } from './place.ts';
import { leaveVehicle, takeSeat } from './riding.ts';
import { ridersOf, seatsOf } from './seats.ts';

const NOW: Expr = { op: 'clock', which: 'now' };
const END: Expr = { op: 'clock', which: 'end of step' };

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

/** On foot to a place, of which the machines of the agent hear. */
function lowerWalk(draft: Draft, statement: Ast.StatementOf<'travel'>, goal: Point, speed: Expr): void {
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
function walkOn(draft: Draft, statement: Ast.StatementOf<'travel'>, goal: Point, speed: Expr): Travelled {
  const { kind, agent } = selfOf(draft);
  const site = draft.site(statement.span, 'a journey');
  const until = journeyValue(draft, kind, 'travelled', agent);
  const earliest = binary('-', NOW, num(draft.shared.model.clock.stepLength * (1 - 1e-9)));
  const from = draft.hold({ op: 'choose', condition: binary('>', until, earliest), then: until, else: NOW });
  const time = draft.hold({ op: 'call', fn: 'max', args: [num(0), binary('-', END, from)] });
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

/**
 * Walks or rides, whichever is expected to be there first: rides on while that is quicker than to alight, walks else, and where it comes to the stop of a line that it is to take waits for a
 * vehicle with a seat, of that line or of another that is quicker still.
 */
function lowerMixedTravel(
  draft: Draft,
  statement: Ast.StatementOf<'travel'>,
  goal: Point,
  speed: Expr,
  lines: readonly LineSymbol[],
): void {
  const { kind, agent, symbol } = selfOf(draft);
  const site = draft.site(statement.span, 'a journey');
  const space = kind.space!.index;
  const aim = aimOf(draft, space, goal, speed, statement.way, lines);
  const here = (): Point => placeOfLocal(draft, symbol);
  const journey = (which: 'time' | 'x' | 'y' | 'rides', at: Point): Expr =>
    draft.hold({ op: 'journey', which, x: at.x, y: at.y, aim });
  const ridings = draft.shared.model.ridings.filter(
    ({ from, to }) => from === kind && lines.some((line) => line.kind === to),
  );
  const rides = draft.newLocal();
  const setRides = (value: number): void => draft.emit({ op: 'set', local: rides, value: num(value) });
  setRides(0);
  for (const riding of ridings) {
    const slot = vehicleSlot(draft, riding, agent);
    const aboard = draft.collect(() => {
      setRides(1);
      const served = servedBy(draft, riding.to, draft.agentIn(slot));
      const stops = draft.collect(() => {
        const leave = journey('time', placeOfAgent(riding.to, draft.agentIn(slot)));
        const stay: Expr = { op: 'ride time', line: served.line, stop: served.stop, aim };
        const alights = draft.collect(() => {
          leaveVehicle(draft, kind, agent, site);
          setRides(0);
        });
        draft.emit({ op: 'if', condition: binary('<', stay, leave), then: [], else: alights });
      });
      draft.emit({ op: 'if', condition: served.isThere, then: stops, else: [] });
    });
    draft.emit({ op: 'if', condition: { op: 'somebody', local: slot }, then: aboard, else: [] });
  }
  const onFoot = draft.collect(() => {
    const from = here();
    const stop = { x: journey('x', from), y: journey('y', from) };
    const takes = journey('rides', from);
    const wait = (value: Expr): void => writeJourney(draft, kind, 'waits', agent, value, site);
    const toStop = draft.collect(() => {
      const { left } = walkOn(draft, statement, stop, speed);
      tellArrival(draft, kind, agent, undefined);
      const waits = draft.collect(() => {
        wait(num(1));
        const time = journey('time', here());
        setRides(0);
        for (const riding of ridings) emitTakeSeat(draft, riding, agent, aim, time, rides, site);
        draft.emit({
          op: 'if',
          condition: local(rides),
          then: draft.collect(() => wait(num(0))),
          else: [],
        });
      });
      draft.emit({
        op: 'if',
        condition: binary('is', left, num(0)),
        then: waits,
        else: draft.collect(() => wait(num(0))),
      });
    });
    const toGoal = draft.collect(() => {
      wait(num(0));
      lowerWalk(draft, statement, goal, speed);
    });
    draft.emit({ op: 'if', condition: takes, then: toStop, else: toGoal });
  });
  draft.emit({ op: 'if', condition: binary('is', local(rides), num(0)), then: onFoot, else: [] });
}

/** The line and stop of a vehicle, and whether it stands there. */
function servedBy(
  draft: Draft,
  vehicle: KindSymbol,
  agent: AgentRef,
): { readonly line: Expr; readonly stop: Expr; readonly isThere: Expr } {
  const line = draft.hold(binary('-', journeyValue(draft, vehicle, 'line', agent), num(1)));
  const stop = draft.hold(journeyValue(draft, vehicle, 'stop', agent));
  const [at, place] = [placeOfAgent(vehicle, agent), stopOf(vehicle.space!.index, line, stop)];
  return { line, stop, isThere: binary('and', binary('is', at.x, place.x), binary('is', at.y, place.y)) };
}

/** So near that two stand at one stop, in any unit. */
const AT_ONE_STOP = 1e-6;

/** Boards the first vehicle at the stop that has a seat and is quicker than what one waits for. */
function emitTakeSeat(
  draft: Draft,
  riding: RidingSymbol,
  rider: AgentRef,
  aim: JourneyAim,
  time: Expr,
  rides: number,
  site: number,
): void {
  const tries = draft.collect(() => {
    const slot = draft.newLocal();
    const candidate = draft.newLocal();
    const { x, y } = placeOfLocal(draft, selfOf(draft).symbol);
    let value: Expr = num(0);
    const statements = draft.collect(() => {
      const vehicle: AgentRef = { local: candidate, own: false };
      const { line, stop, isThere } = servedBy(draft, riding.to, vehicle);
      const isQuicker = binary('<', { op: 'ride time', line, stop, aim }, time);
      const hasSeat = binary('<', ridersOf(draft, riding.to, vehicle), seatsOf(draft, riding.to, candidate));
      value = binary('and', isThere, binary('and', isQuicker, hasSeat));
    });
    const query: Query = {
      over: { is: 'agents' },
      kind: riding.to.index,
      reach: { is: 'within', space: aim.space, distance: num(AT_ONE_STOP), x: draft.hold(x), y: draft.hold(y) },
      candidate,
      present: true,
      where: { statements, value },
    };
    const found = draft.collect(() => {
      takeSeat(draft, riding, rider, draft.agentIn(slot), site);
      draft.emit({ op: 'set', local: rides, value: num(1) });
    });
    draft.emit({ op: 'pick', local: slot, how: 'first', query, found, nobody: [], site });
  });
  draft.emit({ op: 'if', condition: binary('is', local(rides), num(0)), then: tries, else: [] });
}
