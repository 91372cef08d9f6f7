import type { CheckedModel, LineSymbol, NamedPlace } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { Expr, JourneyAim } from '../plan/plan.ts';
import { num } from './code.ts';
import type { Draft, Point } from './draft.ts';

/** The kinds of ways to keep to, in the order of the alphabet, so that the same ones are the same. */
export function waysOf({ ways }: Ast.WayChoice): string {
  return [...new Set(ways?.map(({ text }) => text))].sort().join(' ');
}

/** A stop as the text says it, or as a table does. */
export type Stop = Ast.Expr | NamedPlace;

/** The stops of a line and, if it runs both ways, those of the way back. */
export function courses({ stopTables }: CheckedModel, line: LineSymbol): (readonly Stop[])[] {
  const stops: readonly Stop[] = stopTables.get(line) ?? line.part.stops;
  return line.part.bothWays ? [stops, [...stops].reverse()] : [stops];
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
  return { op: 'call', fn: 'max', args: [speed, num(1e-300)] };
}

/** How long a vehicle stays at a stop. */
export function dwellOf(draft: Draft, { part }: LineSymbol): Expr {
  return part.dwell ? draft.lower(part.dwell) : num(draft.shared.model.clock.stepLength);
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
  const each = lines.flatMap((line) =>
    courses(draft.shared.model, line).map((_, back) => ({ line, number: line.index + back })),
  );
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
  };
}
