import type { CheckedModel, LineSymbol, NamedPlace } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AimPlan, Expr, JourneyAim } from '../plan/plan.ts';
import { larger, NOW, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import type { ModelDraft } from './model-draft.ts';

/** The kinds of ways to keep to, in the order of the alphabet, so that the same ones are the same. */
export function waysOf({ ways }: Ast.WayChoice): string {
  return [...new Set(ways?.map(({ text }) => text))].sort().join(' ');
}

/** A stop as the text says it, or as a table does. */
export type Stop = Ast.Expr | NamedPlace;

/** The stops of a line without a timetable and, if it runs both ways, those of the way back. */
export function courses({ stopTables }: CheckedModel, line: LineSymbol): (readonly Stop[])[] {
  const stops: readonly Stop[] = stopTables.get(line) ?? line.part.stops;
  return line.part.bothWays ? [stops, [...stops].reverse()] : [stops];
}

/** How many lines of the plan a line of the text is: each of its courses, or each trip of its timetable. */
function size(model: CheckedModel, line: LineSymbol): number {
  return model.timetables.get(line)?.length ?? courses(model, line).length;
}

/** The first line of the plan that is of a line of the text, and the one after its last. */
export function numbersOf(model: CheckedModel, line: LineSymbol): readonly [number, number] {
  const first = model.lines.slice(0, line.index).reduce((sum, other) => sum + size(model, other), 0);
  return [first, first + size(model, line)];
}

/** The place of a stop of a line, stops counted from 0. */
export function stopOf(space: number, line: Expr, stop: Expr): Point {
  return {
    x: { op: 'stop place', space, line, axis: 'x', stop },
    y: { op: 'stop place', space, line, axis: 'y', stop },
  };
}

/** A speed for the quickest way, where nothing would stand for no speed at all: what does not go takes for ever. */
export function quickestAt(speed: Expr): Expr {
  return larger(speed, num(1e-300));
}

/** How long a vehicle stays at a stop. */
export function dwellOf(draft: Draft, { part }: LineSymbol): Expr {
  return part.dwell ? draft.lower(part.dwell) : num(draft.shared.model.clock.stepLength);
}

/** The lines that one may take, in the plan: those that run every so often, with the line of the text that each is, and trips of timetables. */
function taken(model: CheckedModel, lines: readonly LineSymbol[]) {
  const isTimed = (line: LineSymbol): boolean => model.timetables.has(line);
  const each = lines
    .filter((line) => !isTimed(line))
    .flatMap((line) => courses(model, line).map((_, back) => ({ line, number: numbersOf(model, line)[0] + back })));
  return { each, trips: lines.filter(isTimed).map((line) => numbersOf(model, line)) };
}

/** Where a journey leads, with what is taken for granted of the lines on the way. */
export function aimOf(
  draft: Draft,
  space: number,
  goal: Point,
  pace: Expr,
  way: Ast.WayChoice,
  lines: readonly LineSymbol[],
): JourneyAim {
  const { each, trips } = taken(draft.shared.model, lines);
  return {
    space,
    x: goal.x,
    y: goal.y,
    pace: way.quickest ? quickestAt(pace) : pace,
    quickest: way.quickest,
    ways: waysOf(way),
    lines: each.map(({ number }) => number),
    terms: each.flatMap(({ line }) => [
      draft.hold(draft.lower(line.part.every!)),
      draft.hold(draft.lower(line.part.at!)),
      draft.hold(dwellOf(draft, line)),
    ]),
    trips,
    now: NOW,
  };
}

/** What the text says of each kind of journeys. */
export function aimPlans(whole: ModelDraft): AimPlan[] {
  const { model, journeys } = whole.shared;
  return journeys.map((statement) => {
    const lines = model.linesOf.get(statement)!;
    const { each, trips } = taken(model, lines);
    return {
      space: lines[0]!.kind.space!.index,
      quickest: statement.way.quickest,
      ways: waysOf(statement.way),
      lines: each.map(({ number }) => number),
      trips,
      terms: each.flatMap(({ line: { part, name } }) => [
        whole.asked(part.every!, name),
        whole.asked(part.at!, name),
        part.dwell ? whole.asked(part.dwell, name) : whole.askNumber(model.clock.stepLength),
      ]),
    };
  });
}
