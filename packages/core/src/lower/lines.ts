import { keyOfName } from '../engine/random/stream.ts';
import type { LineSymbol } from '../language/checked.ts';
import type { Body, Expr, LinePlan, PointPlan, TimelinePlan } from '../plan/plan.ts';
import { binary, END, larger, NOW, num } from './code.ts';
import type { Draft } from './draft.ts';
import type { Stop } from './journey-aim.ts';
import { courses, dwellOf, numbersOf, stopOf, waysOf } from './journey-aim.ts';
import { journeyValue } from './journey-columns.ts';
import { selfOf } from './machine.ts';
import type { ModelDraft } from './model-draft.ts';
import { lowerPlace } from './place.ts';
import { emitTravel } from './emit-travel.ts';
import type { AtStop } from './end-of-ride.ts';
import { endRide } from './end-of-ride.ts';
import { setOut } from './set-out.ts';
import { runTrips, tripDepartures, tripPlans } from './trips.ts';

/**
 * Lines: their vehicles set out every headway from the first stop, or by a timetable, stay at each stop at least to the end of the step, so that all who wait can board, and are removed
 * when they have stood at the last. A line that runs both ways is two.
 */

export function linePlans(whole: ModelDraft): LinePlan[] {
  return whole.model.lines.flatMap((line) => {
    const trips = whole.model.timetables.get(line);
    if (trips) return tripPlans(whole, line, trips);
    return courses(whole.model, line).map((stops): LinePlan => {
      const { name, kind, part } = line;
      const point = (stop: Stop): PointPlan => {
        if (!('is' in stop)) return [whole.askNumber(stop.x), whole.askNumber(stop.y)];
        const axis = (which: 'x' | 'y') => {
          const draft = whole.draft(name);
          let value: Expr = num(0);
          const statements = draft.collect(() => (value = lowerPlace(draft, stop)[which]));
          return whole.ask({ statements, value, locals: draft.localCount });
        };
        return [axis('x'), axis('y')];
      };
      return {
        name,
        kind: kind.index,
        space: kind.space!.index,
        stops: stops.map(point),
        ways: waysOf(part.way),
      };
    });
  });
}

/** Lines of the timeline by which vehicles set out. */
export function lineDepartures(whole: ModelDraft): TimelinePlan[] {
  return whole.model.lines.flatMap((line) => {
    if (whole.model.timetables.has(line)) return [tripDepartures(whole, line)];
    return courses(whole.model, line).map((_, way): TimelinePlan => {
      const { name, part } = line;
      const called = `line ${name}${way > 0 ? ' back' : ''}`;
      const draft = whole.draft(called);
      const [number] = numbersOf(whole.model, line);
      const site = draft.site(part.span, 'a new vehicle');
      const statements = draft.collect(() =>
        setOut(draft, line, num(number + way), draft.hold(binary('+', NOW, dwellOf(draft, line))), site),
      );
      return {
        when: { is: 'every', period: whole.asked(part.every!, name) },
        overrides: [],
        body: { statements, locals: draft.localCount },
        key: keyOfName(called),
        label: `${name}: a ${line.kind.name} sets out${way > 0 ? ' on its way back' : ''}`,
      };
    });
  });
}

/** What each vehicle of a line does in a step. */
export function lineRule(draft: Draft, line: LineSymbol): Body {
  const statements = draft.collect(() => {
    if (draft.shared.model.timetables.has(line)) runTrips(draft, line);
    else courses(draft.shared.model, line).forEach((stops, way) => runCourse(draft, line, way, stops.length));
  });
  return { statements, locals: draft.localCount };
}

function runCourse(draft: Draft, line: LineSymbol, way: number, stops: number): void {
  const { kind, agent } = selfOf(draft);
  const { part } = line;
  const site = draft.site(part.span, 'a vehicle of a line');
  const number = numbersOf(draft.shared.model, line)[0] + way;
  const isOfLine = binary('is', journeyValue(draft, kind, 'line', agent), num(number + 1));
  const goes = draft.collect(() => {
    const from = draft.hold(larger(NOW, journeyValue(draft, kind, 'leaves', agent)));
    const next = draft.hold(binary('+', journeyValue(draft, kind, 'stop', agent), num(1)));
    const moves = draft.collect(() => {
      const time = draft.hold(binary('-', END, from));
      const place = stopOf(kind.space!.index, num(number), next);
      const goal = { x: draft.hold(place.x), y: draft.hold(place.y) };
      const amount = binary('*', time, draft.lower(part.at!));
      const travelled = emitTravel(draft, goal, amount, num(0), waysOf(part.way), true, site);
      const atStop = (): AtStop => {
        const then = draft.hold(binary('+', from, binary('*', travelled.used, time)));
        const departs = draft.hold(binary('+', then, dwellOf(draft, line)));
        return { then, departs, isLast: binary('is', next, num(stops - 1)) };
      };
      endRide(draft, next, travelled, atStop, site);
    });
    const leaves = draft.collect(() => {
      draft.emit({ op: 'remove', kind: kind.index, agent });
      draft.emit({ op: 'end turn' });
    });
    const isOn = draft.collect(() =>
      draft.emit({ op: 'if', condition: binary('<', next, num(stops)), then: moves, else: leaves }),
    );
    draft.emit({ op: 'if', condition: binary('<', from, END), then: isOn, else: [] });
  });
  draft.emit({ op: 'if', condition: isOfLine, then: goes, else: [] });
}
