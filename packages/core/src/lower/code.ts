import type { BinaryFunction, Expr } from '../plan/plan.ts';

export const num = (value: number): Expr => ({ op: 'number', value });

export const local = (index: number): Expr => ({ op: 'local', local: index });

export const binary = (fn: BinaryFunction, left: Expr, right: Expr): Expr => ({ op: 'binary', fn, left, right });

export const times = (value: Expr, factor: number): Expr => (factor === 1 ? value : binary('*', value, num(factor)));

export const larger = (a: Expr, b: Expr): Expr => ({ op: 'call', fn: 'max', args: [a, b] });

/** The time at which the step under way began, and that at which it ends. */
export const NOW: Expr = { op: 'clock', which: 'now' };
export const END: Expr = { op: 'clock', which: 'end of step' };
