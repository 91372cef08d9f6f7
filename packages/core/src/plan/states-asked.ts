import type { Code, Expr, Plan, Query } from './plan.ts';

/** States of one machine, in rising order. */
export interface StatesAsked {
  readonly machine: number;
  readonly states: readonly number[];
}

/** The states that a query asks its candidates for, if its condition asks for nothing else. */
export function statesAsked(plan: Plan, { kind, candidate, where }: Query): StatesAsked | undefined {
  if (!where || where.statements.length > 0) return undefined;
  const machine = machineIn(where, candidate);
  if (machine === undefined) return undefined;
  const { states } = plan.kinds[kind]!.machines[machine]!;
  return { machine, states: [...states.keys()].filter((state) => holdsFor(where.value, state)) };
}

/** The machine whose state of the candidate is all that a condition reads. */
function machineIn({ value }: Code, candidate: number): number | undefined {
  const machines = new Set<number>();
  const isPlain = (e: Expr): boolean => {
    if (e.op === 'not') return isPlain(e.value);
    if (e.op !== 'binary') return false;
    if (e.fn === 'and' || e.fn === 'or') return isPlain(e.left) && isPlain(e.right);
    if ((e.fn !== 'is' && e.fn !== 'is not') || e.left.op !== 'state' || e.right.op !== 'number') return false;
    if (e.left.agent.local !== candidate) return false;
    machines.add(e.left.machine);
    return true;
  };
  return isPlain(value) && machines.size === 1 ? [...machines][0] : undefined;
}

function holdsFor(e: Expr, state: number): boolean {
  if (e.op === 'not') return !holdsFor(e.value, state);
  if (e.op !== 'binary') return false;
  if (e.fn === 'and') return holdsFor(e.left, state) && holdsFor(e.right, state);
  if (e.fn === 'or') return holdsFor(e.left, state) || holdsFor(e.right, state);
  return (e.fn === 'is') === (e.right.op === 'number' && e.right.value === state);
}
