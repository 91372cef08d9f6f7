import { formOf } from '../forms/forms.ts';
import type { ExpressionChecker } from './check-expression.ts';
import { checkWays } from './check-maps.ts';
import { needTurns, ridingOf } from './check-riding.ts';
import type { KindSymbol, LineSymbol, SpaceSymbol } from './checked.ts';
import type { Context, Environment } from './environment.ts';
import { NOBODY } from './environment.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';

/** Lines that vehicles run on, and who takes them. */

export function declareLines(env: Environment, tree: Ast.SyntaxTree): void {
  for (const part of partsOf(tree, 'line')) {
    const { name } = part;
    const kind = env.kinds.get(part.kind.key);
    if (env.lines.has(name.key)) env.report(say.takenName(name.span, name.text, 'a line'));
    else if (!kind) {
      const names = [...env.kinds.values()].map((known) => known.name);
      env.report(say.unknownKind(part.kind.span, part.kind.text, env.near(part.kind.text, names)));
    } else {
      env.stands(name, name);
      env.stands(part.kind, kind);
      env.use(kind);
      env.use(kind.self);
      const index = env.lines.size;
      env.lines.set(name.key, { is: 'line', name: name.text, key: name.key, index, span: name.span, kind, part });
    }
  }
}

/** Checks what stands under a line. */
export function checkLine(env: Environment, e: ExpressionChecker, line: LineSymbol): void {
  const { part, kind } = line;
  const { space } = kind;
  const context: Context = { ...NOBODY, space, noDraws: 'A line' };
  env.needTurns.set(line, new Map([[part.span.start, part.span]]));
  if (space?.form !== 'map') {
    env.report(say.needsMap(part.span, 'A line', space ? formOf(space).words : 'none'));
    return;
  }
  checkWays(env, part.way, space);
  for (const stop of part.stops) e.place(stop, context, space);
  if (part.every) e.time(part.every, context);
  if (part.at) e.speed(part.at, context, space);
  if (part.dwell) e.time(part.dwell, context);
  if (part.timetable) checkTimetable(env, part);
  else checkStops(env, part);
}

function checkStops(env: Environment, part: Ast.LinePart): void {
  if (!part.stopsFile && part.stops.length < 2)
    env.report(say.lineNeeds(part.span, 'two stops or more', 'stops place named "Mill", place named "Green"'));
  if (!part.every) env.report(say.lineNeeds(part.span, 'how often its vehicles set out', 'every 12 minutes'));
  if (!part.at) env.report(say.lineNeeds(part.span, 'how fast its vehicles go', 'at 9 km per h'));
}

function checkTimetable(env: Environment, part: Ast.LinePart): void {
  if (!env.scales.time) env.report(say.needsTimeOfDay(part.timetable!.span));
  const more = [
    { span: part.stopsFile?.span ?? part.stops[0]?.span, says: 'where its vehicles stop' },
    { span: part.every?.span, says: 'when they set out' },
    { span: part.at?.span, says: 'how fast they go' },
    { span: part.dwell?.span, says: 'how long they stay' },
    { span: part.bothWays ? part.span : undefined, says: 'which way they go' },
  ];
  for (const { span, says } of more) if (span) env.report(say.needsNoMore(span, says));
}

/** The lines that may be taken on a way, by name. */
export function checkLinesTaken(
  env: Environment,
  asker: Ast.Expr | Ast.Statement,
  names: readonly Ast.Name[],
  map: SpaceSymbol,
): readonly LineSymbol[] {
  const lines = names.flatMap((name) => {
    const line = env.lines.get(name.key);
    if (!line) {
      const known = [...env.lines.values()].map((other) => other.name);
      env.report(say.unknownLine(name.span, name.text, env.near(name.text, known)));
      return [];
    }
    env.stands(name, line);
    env.use(line);
    if (line.kind.space !== map && line.kind.space)
      env.report(say.otherSpace(name.span, line.name, line.kind.space.name, map.name));
    return [line];
  });
  env.linesOf.set(asker, lines);
  return lines;
}

/** Checks `travel ... or by Ferries`: who travels so boards and alights by itself. */
export function takeLines(
  env: Environment,
  statement: Ast.StatementOf<'travel'>,
  names: readonly Ast.Name[],
  map: SpaceSymbol,
  context: Context,
): void {
  needTurns(env, statement, context);
  const rider: KindSymbol | undefined = context.self && env.kindNamed(context.self.type);
  const lines = checkLinesTaken(env, statement, names, map);
  if (!rider) return;
  env.takers.add(rider);
  for (const { kind } of lines) {
    if (!kind.seats) env.report(say.noSeats(statement.span, kind.name, kind.part.span.end));
    else if (kind === rider) env.report(say.ridesInItself(statement.span, rider.name, [rider.name]));
    else ridingOf(env, rider, kind, statement.span);
  }
}
