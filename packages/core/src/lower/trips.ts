import { keyOfName } from '../engine/random/stream.ts';
import type { CheckedTrip, LineSymbol } from '../language/checked.ts';
import type { Expr, LinePlan, TimelinePlan } from '../plan/plan.ts';
import { binary, END, larger, NOW, num } from './code.ts';
import type { Draft } from './draft.ts';
import { emitTravel } from './emit-travel.ts';
import type { AtStop } from './end-of-ride.ts';
import { endRide } from './end-of-ride.ts';
import { numbersOf, stopOf, waysOf } from './journey-aim.ts';
import { journeyValue } from './journey-columns.ts';
import { selfOf } from './machine.ts';
import type { ModelDraft } from './model-draft.ts';
import { placeOfAgent } from './place.ts';
import { setOut } from './set-out.ts';

/**
 * Lines with a timetable, the same on every day or in every week. In the plan each trip is a line. A vehicle appears in the step
 * at whose end its trip begins, goes so fast that it is at each stop when its timetable says, and
 * leaves then, or at the end of the step in which it came.
 */

export function tripPlans(whole: ModelDraft, line: LineSymbol, trips: readonly CheckedTrip[]): LinePlan[] {
  const seconds = whole.model.scales.time!.size;
  const inTime = (times: readonly number[]): number[] => times.map((time) => time / seconds);
  return trips.map(({ stops, arrives, leaves }) => ({
    name: line.name,
    kind: line.kind.index,
    space: line.kind.space!.index,
    stops: [],
    ways: waysOf(line.part.way),
    trip: {
      x: stops.map(({ x }) => x),
      y: stops.map(({ y }) => y),
      arrives: inTime(arrives),
      leaves: inTime(leaves),
      trips: trips.length,
      days: whole.model.timetableDays,
    },
  }));
}

type Told = Extract<Expr, { op: 'timetable' }>['which'];

/** What a timetable says. */
function told(line: LineSymbol, which: Told, number: Expr, of: Expr): Expr {
  return { op: 'timetable', which, space: line.kind.space!.index, line: number, of };
}

/** The line of the timeline by which vehicles set out: as many as have trips that begin by its end. */
export function tripDepartures(whole: ModelDraft, line: LineSymbol): TimelinePlan {
  const { name, kind, part } = line;
  const called = `line ${name}`;
  const draft = whole.draft(called);
  const site = draft.site(part.span, 'a new vehicle');
  const [from, to] = numbersOf(whole.model, line);
  const [first, trips] = [num(from), num(to - from)];
  const begun = (time: Expr): Expr => told(line, 'begun by', first, time);
  const beginning = binary('-', begun(END), begun(NOW));
  const statements = draft.collect(() => {
    const next = draft.newLocal();
    draft.emit({ op: 'set', local: next, value: begun(NOW) });
    const body = draft.collect(() => {
      const trip: Expr = { op: 'local', local: next };
      const number = draft.hold(binary('+', first, { op: 'call', fn: 'mod', args: [trip, trips] }));
      const departs = draft.hold(told(line, 'leaves', first, trip));
      setOut(draft, line, number, departs, site);
      draft.emit({ op: 'set', local: next, value: binary('+', trip, num(1)) });
    });
    draft.emit({ op: 'repeat', count: draft.hold(beginning), body, site });
  });
  return {
    when: { is: 'each time', condition: whole.ask({ statements: [], value: beginning, locals: 0 }) },
    overrides: [],
    body: { statements, locals: draft.localCount },
    key: keyOfName(called),
    label: `${name}: a ${kind.name} sets out`,
  };
}

/** What the vehicles of all trips do in a step. */
export function runTrips(draft: Draft, line: LineSymbol): void {
  const { kind, agent } = selfOf(draft);
  const site = draft.site(line.part.span, 'a vehicle of a line');
  const [first, end] = numbersOf(draft.shared.model, line);
  const number = draft.hold(binary('-', journeyValue(draft, kind, 'line', agent), num(1)));
  const isOfLine = binary('and', binary('>=', number, num(first)), binary('<', number, num(end)));
  const goes = draft.collect(() => {
    const from = draft.hold(larger(NOW, journeyValue(draft, kind, 'leaves', agent)));
    const stop = draft.hold(journeyValue(draft, kind, 'stop', agent));
    const ride = draft.hold(told(line, 'ride', number, stop));
    const moves = draft.collect(() => runOn(draft, line, { number, from, stop, ride }, site));
    const leaves = draft.collect(() => {
      draft.emit({ op: 'remove', kind: kind.index, agent });
      draft.emit({ op: 'end turn' });
    });
    const isOn = draft.collect(() =>
      draft.emit({ op: 'if', condition: binary('>=', ride, num(0)), then: moves, else: leaves }),
    );
    draft.emit({ op: 'if', condition: binary('<', from, END), then: isOn, else: [] });
  });
  draft.emit({ op: 'if', condition: isOfLine, then: goes, else: [] });
}

/** A vehicle on its way from a stop to the next. */
interface Ride {
  readonly number: Expr;
  /** The time at which it goes on. */
  readonly from: Expr;
  readonly stop: Expr;
  /** The time to the next stop by the timetable. */
  readonly ride: Expr;
}

function runOn(draft: Draft, line: LineSymbol, { number, from, stop, ride }: Ride, site: number): void {
  const { kind, agent } = selfOf(draft);
  const space = kind.space!.index;
  const ways = waysOf(line.part.way);
  const next = draft.hold(binary('+', stop, num(1)));
  const due = draft.hold(binary('+', journeyValue(draft, kind, 'departs', agent), ride));
  const place = stopOf(space, number, next);
  const goal = { x: draft.hold(place.x), y: draft.hold(place.y) };
  const here = placeOfAgent(kind, agent);
  const rest = draft.hold({
    op: 'way length',
    space,
    ax: here.x,
    ay: here.y,
    bx: goal.x,
    by: goal.y,
    speed: num(0),
    ways,
  });
  const slack = num(draft.shared.model.clock.stepLength * 1e-9);
  // All that is left and some more, so that rounding does not keep it from arriving; else its share of what is left.
  const all = binary('+', binary('*', rest, num(2)), num(1));
  const share = binary('*', rest, binary('/', binary('-', END, from), binary('-', due, from)));
  const amount = draft.hold({
    op: 'choose',
    condition: binary('<=', due, binary('+', END, slack)),
    then: all,
    else: share,
  });
  const atStop = (): AtStop => ({
    then: draft.hold(larger(from, due)),
    departs: draft.hold(binary('+', due, told(line, 'stay', number, next))),
    isLast: { op: 'not', value: binary('>=', told(line, 'ride', number, next), num(0)) },
  });
  endRide(draft, next, emitTravel(draft, goal, amount, num(0), ways, true, site), atStop, site);
}
