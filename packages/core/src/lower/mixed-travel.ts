import type { KindSymbol, LineSymbol, RidingSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Expr, JourneyAim, Query } from '../plan/plan.ts';
import { tellArrival } from './arrivals.ts';
import { binary, larger, local, NOW, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import { aimOf, stopOf } from './journey-aim.ts';
import { journeyValue, writeJourney } from './journey-columns.ts';
import { selfOf } from './machine.ts';
import { placeOfAgent, placeOfLocal, vehicleSlot } from './place.ts';
import { leaveVehicle, takeSeat } from './riding.ts';
import { ridersOf, seatsOf } from './seats.ts';
import { lowerWalk, walkOn } from './walk.ts';

/** A journey under way: who travels, whither, and what it may ride in. */
interface Journey {
  readonly statement: Ast.StatementOf<'travel'>;
  readonly goal: Point;
  readonly speed: Expr;
  readonly aim: JourneyAim;
  readonly ridings: readonly RidingSymbol[];
  readonly site: number;
  /** The local that holds whether it rides. */
  readonly rides: number;
}

/**
 * Walks or rides, whichever is expected to be there first: rides on while that is quicker than to alight, walks else, and where it comes to the stop of a line that it is to take waits for a
 * vehicle with a seat, of that line or of another that is quicker still.
 */
export function lowerMixedTravel(
  draft: Draft,
  statement: Ast.StatementOf<'travel'>,
  goal: Point,
  speed: Expr,
  lines: readonly LineSymbol[],
): void {
  const { kind } = selfOf(draft);
  const ridings = draft.shared.model.ridings.filter(
    ({ from, to }) => from === kind && lines.some((line) => line.kind === to),
  );
  const journey: Journey = {
    statement,
    goal,
    speed,
    aim: aimOf(draft, kind.space!.index, goal, speed, statement.way, lines),
    ridings,
    site: draft.site(statement.span, 'a journey'),
    rides: draft.newLocal(),
  };
  noteAim(draft, journey);
  setRides(draft, journey, false);
  for (const riding of ridings) rideOn(draft, journey, riding);
  const onFoot = draft.collect(() => goOnFoot(draft, journey));
  draft.emit({ op: 'if', condition: binary('is', local(journey.rides), num(0)), then: onFoot, else: [] });
}

/** What no journey reaches: places and speeds beyond are not noted. */
const BEYOND = 1e300;

/** Notes where the agent is bound, for those who ask. */
function noteAim(draft: Draft, { statement, goal, aim, site }: Journey): void {
  const { kind, agent } = selfOf(draft);
  const { journeys } = draft.shared;
  if (!journeys.includes(statement)) journeys.push(statement);
  const note = (which: 'aim' | 'goal x' | 'goal y' | 'pace', value: Expr): void =>
    writeJourney(draft, kind, which, agent, value, site);
  const notes = draft.collect(() => {
    note('aim', num(journeys.indexOf(statement) + 1));
    note('goal x', goal.x);
    note('goal y', goal.y);
    note('pace', aim.pace);
  });
  const isWithin = [goal.x, aim.pace].map((value) => binary('<', value, num(BEYOND)));
  draft.emit({
    op: 'if',
    condition: binary('and', binary('and', isWithin[0]!, isWithin[1]!), binary('>', aim.pace, num(-BEYOND))),
    then: notes,
    else: draft.collect(() => note('aim', num(0))),
  });
}

function setRides(draft: Draft, { rides }: Journey, value: boolean): void {
  draft.emit({ op: 'set', local: rides, value: num(value ? 1 : 0) });
}

function expected(draft: Draft, { aim }: Journey, which: 'time' | 'x' | 'y' | 'rides', at: Point): Expr {
  return draft.hold({ op: 'journey', which, x: at.x, y: at.y, aim });
}

/** Who sits in a vehicle stays there, unless it stands at a stop where to alight is quicker. */
function rideOn(draft: Draft, journey: Journey, riding: RidingSymbol): void {
  const { kind, agent } = selfOf(draft);
  const slot = vehicleSlot(draft, riding, agent);
  const aboard = draft.collect(() => {
    setRides(draft, journey, true);
    const vehicle = draft.agentIn(slot);
    const { isThere, ...served } = servedBy(draft, riding.to, vehicle);
    const stops = draft.collect(() => {
      const leave = expected(draft, journey, 'time', placeOfAgent(riding.to, vehicle));
      const came = journeyValue(draft, riding.to, 'travelled', vehicle);
      const stay: Expr = { op: 'ride time', ...served, since: larger(NOW, came), aim: journey.aim };
      const alights = draft.collect(() => {
        leaveVehicle(draft, kind, agent, journey.site);
        setRides(draft, journey, false);
      });
      draft.emit({ op: 'if', condition: isAsQuick(draft, stay, leave), then: [], else: alights });
    });
    draft.emit({ op: 'if', condition: isThere, then: stops, else: [] });
  });
  draft.emit({ op: 'if', condition: { op: 'somebody', local: slot }, then: aboard, else: [] });
}

/** To the stop of the line that is to be taken, or to the goal itself. */
function goOnFoot(draft: Draft, journey: Journey): void {
  const { kind, agent, symbol } = selfOf(draft);
  const { statement, goal, speed, site } = journey;
  const from = placeOfLocal(draft, symbol);
  const stop = { x: expected(draft, journey, 'x', from), y: expected(draft, journey, 'y', from) };
  const takes = expected(draft, journey, 'rides', from);
  writeJourney(draft, kind, 'waits', agent, num(0), site);
  const toStop = draft.collect(() => {
    const { left } = walkOn(draft, statement, stop, speed);
    tellArrival(draft, kind, agent, undefined);
    const waits = draft.collect(() => waitAtStop(draft, journey));
    draft.emit({ op: 'if', condition: binary('is', left, num(0)), then: waits, else: [] });
  });
  const toGoal = draft.collect(() => lowerWalk(draft, statement, goal, speed));
  draft.emit({ op: 'if', condition: takes, then: toStop, else: toGoal });
}

function waitAtStop(draft: Draft, journey: Journey): void {
  const { kind, agent, symbol } = selfOf(draft);
  writeJourney(draft, kind, 'waits', agent, num(1), journey.site);
  const time = expected(draft, journey, 'time', placeOfLocal(draft, symbol));
  for (const riding of journey.ridings) emitTakeSeat(draft, riding, journey, time);
}

/** The line and stop of a vehicle, when it is to leave that by its timetable, and whether it stands there. */
function servedBy(
  draft: Draft,
  vehicle: KindSymbol,
  agent: AgentRef,
): { readonly line: Expr; readonly stop: Expr; readonly departs: Expr; readonly isThere: Expr } {
  const line = draft.hold(binary('-', journeyValue(draft, vehicle, 'line', agent), num(1)));
  const stop = draft.hold(journeyValue(draft, vehicle, 'stop', agent));
  const [at, place] = [placeOfAgent(vehicle, agent), stopOf(vehicle.space!.index, line, stop)];
  const departs = draft.hold(journeyValue(draft, vehicle, 'departs', agent));
  return { line, stop, departs, isThere: binary('and', binary('is', at.x, place.x), binary('is', at.y, place.y)) };
}

/** Whether a time is no longer than another, but for rounding. */
function isAsQuick(draft: Draft, time: Expr, other: Expr): Expr {
  return binary('<=', time, binary('+', other, num(draft.shared.model.clock.stepLength * 1e-9)));
}

/** So near that two stand at one stop, in any unit. */
const AT_ONE_STOP = 1e-6;

/** Boards the first vehicle at the stop that has a seat and, left at once, is at least as quick as what one waits for. */
function emitTakeSeat(draft: Draft, riding: RidingSymbol, journey: Journey, time: Expr): void {
  const { aim, rides, site } = journey;
  const tries = draft.collect(() => {
    const slot = draft.newLocal();
    const candidate = draft.newLocal();
    const { agent: rider, symbol } = selfOf(draft);
    const { x, y } = placeOfLocal(draft, symbol);
    let value: Expr = num(0);
    const statements = draft.collect(() => {
      const vehicle: AgentRef = { local: candidate, own: false };
      const { isThere, ...served } = servedBy(draft, riding.to, vehicle);
      const isQuick = isAsQuick(draft, { op: 'ride time', ...served, since: num(BEYOND), aim }, time);
      const hasSeat = binary('<', ridersOf(draft, riding.to, vehicle), seatsOf(draft, riding.to, candidate));
      value = binary('and', isThere, binary('and', isQuick, hasSeat));
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
      setRides(draft, journey, true);
    });
    draft.emit({ op: 'pick', local: slot, how: 'first', query, found, nobody: [], site });
  });
  draft.emit({ op: 'if', condition: binary('is', local(rides), num(0)), then: tries, else: [] });
}
