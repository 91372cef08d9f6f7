import type { Expr } from '../plan/plan.ts';
import { local } from './code.ts';
import type { Draft, Point } from './draft.ts';
import { selfOf } from './machine.ts';
import { carryRiders, demandAshore } from './riding.ts';

/** The locals in which a travel leaves what it used of its amount and what is left to go. */
export interface Travelled {
  readonly used: Expr;
  readonly left: Expr;
}

/** Goes along the lanes, with all who ride in the acting agent, which must not ride itself. */
export function emitTravel(
  draft: Draft,
  { x, y }: Point,
  amount: Expr,
  speed: Expr,
  ways: string,
  mustReach: boolean,
  site: number,
): Travelled {
  const { kind, agent } = selfOf(draft);
  demandAshore(draft, kind, agent, site);
  const [used, left] = [draft.newLocal(), draft.newLocal()];
  draft.emit({ op: 'travel', kind: kind.index, agent, x, y, amount, speed, ways, used, left, mustReach, site });
  carryRiders(draft, kind, agent, site);
  return { used: local(used), left: local(left) };
}
