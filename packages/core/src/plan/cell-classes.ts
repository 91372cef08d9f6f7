import type * as P from './plan.ts';
import type { StatesAsked } from './states-asked.ts';
import { statesAsked } from './states-asked.ts';

/** A kind, or those of it in some states, of whom it is kept on which cells they stand. */
export interface CellClass {
  readonly kind: number;
  /** Absent for all of the kind. */
  readonly asked?: StatesAsked;
}

export function className({ kind, asked }: CellClass): string {
  return asked ? `K${kind}_${asked.machine}_${asked.states.join('or')}` : `K${kind}`;
}

/** Whom a query asks for: those in some states where that is all it asks of them, else all of the kind. */
export function classAsked(plan: P.Plan, query: P.Query): CellClass {
  const asked = statesAsked(plan, query);
  return asked && asked.states.length > 0 ? { kind: query.kind, asked } : { kind: query.kind };
}
