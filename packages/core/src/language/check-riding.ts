import type { Span } from '../diagnostics.ts';
import type { KindSymbol, LocalSymbol, RidingSymbol } from './checked.ts';
import type { Context, Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';
import type { Type } from './types.ts';
import { sayType } from './types.ts';

/** Who rides in what: found by who boards what, in the passes that infer types, and asked about after. */

/** Notes that a statement can only be done by one agent after the other. */
export function needTurns(env: Environment, statement: Ast.Statement, context: Context): void {
  if (!context.rule) return;
  const spans = env.needTurns.get(context.rule) ?? new Map<number, Span>();
  env.needTurns.set(context.rule, spans.set(statement.span.start, statement.span));
}

/** What agents of a kind ride in. */
export function ridingsOf(env: Environment, kind: KindSymbol): RidingSymbol[] {
  return [...env.ridings.values()].filter((riding) => riding.from === kind);
}

/** Checks `board v` and `take on w`, and notes who rides in what. */
export function checkBoarding(
  env: Environment,
  statement: Ast.StatementOf<'board'>,
  [riderType, vehicleType]: readonly (Type | undefined)[],
  context: Context,
): void {
  needTurns(env, statement, context);
  const rider = kindMeant(env, statement, statement.rider, riderType, context);
  const vehicle = kindMeant(env, statement, statement.vehicle, vehicleType, context);
  if (!rider || !vehicle) return;
  if (rider === vehicle) env.report(say.ridesInItself(statement.span, rider.name, [rider.name]));
  else if (!vehicle.seats) env.report(say.noSeats(statement.span, vehicle.name, vehicle.part.span.end));
  else if (rider.space !== vehicle.space)
    env.report(say.otherSpace(statement.span, vehicle.name, vehicle.space!.name, rider.space!.name));
  else if (rider.space?.oneAgentACell) env.report(say.oneACellAboard(statement.span, rider.space.name));
  else {
    const riding = ridingOf(env, rider, vehicle, statement.span);
    env.use(rider);
    env.use(vehicle);
    env.networkOf.set(statement, riding);
  }
}

/** Checks `alight` and `set down w`. */
export function checkAlighting(
  env: Environment,
  statement: Ast.StatementOf<'alight'>,
  riderType: Type | undefined,
  context: Context,
): void {
  needTurns(env, statement, context);
  const rider = kindMeant(env, statement, statement.rider, riderType, context);
  if (rider && ridingsOf(env, rider).length === 0) env.report(say.neverBoards(statement.span, rider.name));
}

/** The kind of an agent that is named, or of the one that acts. */
function kindMeant(
  env: Environment,
  statement: Ast.Statement,
  expr: Ast.Expr | undefined,
  type: Type | undefined,
  context: Context,
): KindSymbol | undefined {
  if (!expr) {
    const kind = context.asker && env.kindNamed(context.asker.type);
    if (!kind) env.report(say.noSelf(statement.span, `“${env.textOf(statement.span)}”`));
    return kind;
  }
  const kind = type && env.kindNamed(type);
  if (!kind && type && type.is !== 'unknown') env.report(say.wrongType(expr.span, 'An agent', sayType(type)));
  return kind;
}

/** Who rides in what, noted when somebody first boards. */
export function ridingOf(env: Environment, rider: KindSymbol, vehicle: KindSymbol, boardedAt: Span): RidingSymbol {
  const name = `${rider.name} aboard ${vehicle.name}`;
  const key = name.toLowerCase();
  const known = env.ridings.get(key);
  if (known) return known;
  const called = { text: name, key, span: boardedAt };
  const kinds = [rider, vehicle].map((kind) => kind.part.name) as [Ast.Name, Ast.Name];
  const riding: RidingSymbol = {
    is: 'network',
    name,
    key,
    index: env.networks.size + env.ridings.size,
    span: boardedAt,
    from: rider,
    to: vehicle,
    directed: false,
    attributes: [],
    part: {
      is: 'network',
      name: called,
      kinds,
      directed: false,
      maker: { is: 'none', span: boardedAt },
      has: [],
      span: boardedAt,
    },
    boardedAt,
  };
  env.ridings.set(key, riding);
  return riding;
}

/** `vehicle`: what an agent rides in, or nobody. */
export function vehicleOf(env: Environment, expr: Ast.Expr, kind: KindSymbol, agent: LocalSymbol): Type {
  const ridings = ridingsOf(env, kind);
  const [riding] = ridings;
  if (!riding) return env.wrong(say.neverBoards(expr.span, kind.name));
  if (ridings.length > 1)
    return env.wrong(
      say.severalVehicles(
        expr.span,
        kind.name,
        ridings.map(({ to }) => to.name),
      ),
    );
  env.refs.set(expr, { is: 'vehicle', riding, agent });
  return { is: 'agent', kind: riding.to.name, maybe: true };
}

/** Checks `seats left of v` and its like. */
export function checkSeats(env: Environment, expr: Ast.ExprOf<'seats'>, type: Type, context: Context): void {
  if (type.is === 'unknown') return;
  const kind = env.kindNamed(type);
  if (!kind) env.report(say.wrongType(expr.of.span, 'A vehicle', sayType(type)));
  else if (!kind.seats) env.report(say.noSeats(expr.of.span, kind.name, kind.part.span.end));
  else if (type.is === 'agent' && type.maybe && !context.sure?.has(env.textOf(expr.of.span).toLowerCase()))
    env.report(say.maybeNobody(expr.of.span, env.textOf(expr.of.span), expr.span, env.textOf(expr.span)));
}

/** Checks `Vole aboard v`, `Vole aboard` and `Ferry carrying w`. */
export function checkRidingReach(
  env: Environment,
  reach: Ast.Reach,
  asked: KindSymbol | undefined,
  of: Type | undefined,
  context: Context,
): void {
  const isAboard = reach.is === 'aboard';
  const asker = context.asker && env.kindNamed(context.asker.type);
  if (!asked) {
    env.report(say.noReach(reach.span, env.textOf(reach.span)));
    return;
  }
  if (!reach.of && !asker) {
    env.report(say.noSelf(reach.span, '“aboard”', ' it'));
    return;
  }
  const given = reach.of ? of && env.kindNamed(of) : asker;
  if (!given) {
    if (of && of.is !== 'unknown') env.report(say.wrongType(reach.of!.span, 'An agent', sayType(of)));
    return;
  }
  let vehicle = isAboard ? given : asked;
  if (isAboard && !reach.of && !given.seats) {
    const ridings = ridingsOf(env, given);
    const [own] = ridings;
    if (!own || ridings.length > 1) {
      env.report(
        own
          ? say.severalVehicles(
              reach.span,
              given.name,
              ridings.map(({ to }) => to.name),
            )
          : say.neverBoards(reach.span, given.name),
      );
      return;
    }
    env.askersRiding.set(reach, own);
    vehicle = own.to;
  }
  const rider = isAboard ? asked : given;
  const riding = env.ridings.get(`${rider.key} aboard ${vehicle.key}`);
  if (riding) env.networkOf.set(reach, riding);
  else if (!vehicle.seats) env.report(say.noSeats(reach.span, vehicle.name, vehicle.part.span.end));
  else env.report(say.neverBoards(reach.span, rider.name, vehicle.name));
}

/** Carts aboard ferries that ride in carts would have no place. */
export function reportRidingInCircles(env: Environment): void {
  for (const { from, to, boardedAt } of env.ridings.values()) {
    const way = wayOfRiding(env, to, from, new Set());
    if (way) env.report(say.ridesInItself(boardedAt, from.name, [from.name, ...way]));
  }
}

/** The kinds through which agents of one kind would ride in another, itself first; nothing if they never do. */
function wayOfRiding(
  env: Environment,
  kind: KindSymbol,
  wanted: KindSymbol,
  seen: Set<KindSymbol>,
): readonly string[] | undefined {
  if (kind === wanted) return [];
  if (seen.has(kind)) return undefined;
  seen.add(kind);
  for (const { to } of ridingsOf(env, kind)) {
    const further = wayOfRiding(env, to, wanted, seen);
    if (further) return [kind.name, ...further];
  }
  return undefined;
}
