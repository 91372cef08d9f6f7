import type { KindSymbol, RidingSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentRef, Expr, Query } from '../plan/plan.ts';
import { binary, larger, num } from './code.ts';
import type { Draft } from './draft.ts';
import { lowerAgent } from './place.ts';
import { counted } from './query.ts';

/** Who rides in vehicles of a kind. */
export function ridingsInto(draft: Draft, vehicle: KindSymbol): RidingSymbol[] {
  return draft.shared.model.ridings.filter((riding) => riding.to === vehicle);
}

/** All tied to an agent on one side: 0 for the vehicle of a rider, 1 for the riders of a vehicle. */
export function tiedTo(draft: Draft, riding: RidingSymbol, side: 0 | 1, agent: AgentRef): Query {
  const kind = (side === 0 ? riding.to : riding.from).index;
  const reach = { is: 'tied' as const, network: riding.index, side, agent };
  return { over: { is: 'agents' }, kind, reach, candidate: draft.newLocal() };
}

export function sumOf(values: readonly Expr[]): Expr {
  return values.reduce((a, b) => binary('+', a, b), num(0));
}

/** How many ride in a vehicle. */
export function ridersOf(draft: Draft, vehicle: KindSymbol, agent: AgentRef): Expr {
  return sumOf(ridingsInto(draft, vehicle).map((riding) => counted(draft, 'count', tiedTo(draft, riding, 1, agent))));
}

/** How many can. */
export function seatsOf(draft: Draft, vehicle: KindSymbol, slot: number): Expr {
  let seats: Expr = num(0);
  draft.asSelf(vehicle.self, slot, () => (seats = draft.hold(draft.lower(vehicle.seats!))));
  return seats;
}

/** `seats of v`, `seats left of v`, `riders of v`. */
export function lowerSeats(draft: Draft, expr: Ast.ExprOf<'seats'>): Expr {
  const type = draft.shared.model.types.get(expr.of);
  const vehicle = draft.shared.model.kinds.find((kind) => type?.is === 'agent' && kind.name === type.kind)!;
  const slot = lowerAgent(draft, expr.of);
  if (expr.which === 'riders') return ridersOf(draft, vehicle, draft.agentIn(slot));
  const seats = draft.finite(seatsOf(draft, vehicle, slot), expr.span, 'the number of seats');
  if (expr.which === 'seats') return seats;
  const left = binary('-', seats, ridersOf(draft, vehicle, draft.agentIn(slot)));
  return larger(num(0), left);
}
