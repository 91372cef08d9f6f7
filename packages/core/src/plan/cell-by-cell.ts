import { formOf } from '../forms/forms.ts';
import type * as P from './plan.ts';

/** Whether all who are on a space are on cells of which each holds one of them. */
export function holdsOneACell(plan: P.Plan, space: number): boolean {
  const { form, oneAgentACell } = plan.spaces[space]!;
  return (
    formOf({ form }).isOfCells &&
    oneAgentACell &&
    plan.kinds.every((kind) => kind.space !== space || !kind.mayBeNowhere)
  );
}

/** Whether a query asks for agents around a cell, of whom it is kept cell by cell where they stand. */
export function asksCellByCell(plan: P.Plan, { over, reach, kind }: P.Query): boolean {
  if (over.is !== 'agents' || reach.is === 'all' || reach.is === 'tied') return false;
  return holdsOneACell(plan, plan.kinds[kind]!.space);
}
